/**
 * The comparison once more, from the textbook and by brute force, sharing nothing with the product:
 * plain sums, and the studentised range by Simpson's rule over both of its integrals.
 */
export function independentComparison(rows: { specimen: string; mount: string; value: number }[]) {
  const names = [...new Set(rows.map((r) => r.specimen))];
  const groups = names.map((name) => {
    const mounts = [...new Set(rows.filter((r) => r.specimen === name).map((r) => r.mount))];
    const values = mounts.map((m) => average(rows.filter((r) => r.specimen === name && r.mount === m).map((r) => r.value)));
    const mean = average(values);
    const ss = values.reduce((s, v) => s + (v - mean) ** 2, 0);
    return { name, n: values.length, mean, ss, variance: ss / (values.length - 1) };
  });
  const k = groups.length;
  const df = groups.reduce((s, g) => s + g.n - 1, 0);
  const pooledSd = Math.sqrt(groups.reduce((s, g) => s + g.ss, 0) / df);
  const specimens = groups.map((g) => {
    // two means of the studentised range are Student's t: t = q/√2
    const half = (solve((q) => rangeCdf(q, 2, g.n - 1), 0.95) / Math.SQRT2) * Math.sqrt(g.variance / g.n);
    return { name: g.name, mean: g.mean, low: g.mean - half, high: g.mean + half };
  });
  const pairs = groups.flatMap((a, i) =>
    groups.slice(i + 1).map((b) => {
      const va = a.variance / a.n;
      const vb = b.variance / b.n;
      const se = Math.sqrt(va + vb);
      const welch = (va + vb) ** 2 / (va ** 2 / (a.n - 1) + vb ** 2 / (b.n - 1));
      const difference = a.mean - b.mean;
      const half = (solve((q) => rangeCdf(q, k, welch), 0.95) * se) / Math.SQRT2;
      return {
        a: a.name,
        b: b.name,
        difference,
        low: difference - half,
        high: difference + half,
        p: 1 - rangeCdf((Math.abs(difference) / se) * Math.SQRT2, k, welch),
      };
    }),
  );
  return { specimens, pairs, df, pooledSd };
}

const average = (values: number[]) => values.reduce((a, b) => a + b, 0) / values.length;

function simpson(f: (x: number) => number, from: number, to: number, pieces: number): number {
  const h = (to - from) / pieces;
  let sum = f(from) + f(to);
  for (let i = 1; i < pieces; i++) sum += (i % 2 === 1 ? 4 : 2) * f(from + i * h);
  return (sum * h) / 3;
}

const density = (z: number) => Math.exp((-z * z) / 2) / Math.sqrt(2 * Math.PI);

/** Φ on a fine grid, summed up once by Simpson's rule. */
const STEP = 0.005;
const below: number[] = [0];
for (let i = 1; i <= 16 / STEP; i++) below.push(below[i - 1] + simpson(density, -8 + (i - 1) * STEP, -8 + i * STEP, 2));
function phi(z: number): number {
  const at = (Math.min(8, Math.max(-8, z)) + 8) / STEP;
  const i = Math.min(Math.floor(at), below.length - 2);
  return below[i] + (at - i) * (below[i + 1] - below[i]);
}

const known = new Map<string, (w: number) => number>();
/** Distribution of the range of k normals, tabulated and interpolated. */
function rangeOfNormals(k: number): (w: number) => number {
  const name = String(k);
  const found = known.get(name);
  if (found) return found;
  const table = Array.from({ length: 1601 }, (_, i) => {
    const w = i * 0.01;
    return k * simpson((z) => density(z) * (phi(z) - phi(z - w)) ** (k - 1), -8, 8, 320);
  });
  const f = (w: number) => {
    if (w >= 16) return 1;
    const i = Math.floor(w / 0.01);
    return table[i] + (w / 0.01 - i) * (table[i + 1] - table[i]);
  };
  known.set(name, f);
  return f;
}

function rangeCdf(q: number, k: number, df: number): number {
  const w = rangeOfNormals(k);
  const weight = (s: number) => (s <= 0 ? 0 : s ** (df - 1) * Math.exp((-df * s * s) / 2));
  const top = 1 + 9 / Math.sqrt(df);
  return simpson((s) => weight(s) * w(q * s), 0, top, 1200) / simpson(weight, 0, top, 1200);
}

function solve(f: (q: number) => number, target: number): number {
  let low = 0.1;
  let high = 200;
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (f(middle) < target) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
