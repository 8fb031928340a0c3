import { leastSquares } from './leastSquares';

/**
 * Least squares with no coefficient below zero, by the active-set method of Lawson & Hanson (Solving Least Squares Problems, 1974, ch. 23).
 * @param columns design matrix, one array of n numbers per coefficient; not changed
 * @param free coefficients that may take either sign; they must be independent of each other
 * @returns coefficients and the residual sum of squares
 */
export function nonNegativeLeastSquares(
  columns: Float64Array[],
  y: Float64Array,
  free: number[] = [],
): { coefficients: Float64Array; rss: number } {
  const p = columns.length;
  const taken = columns.map((_, j) => free.includes(j));
  const barred = new Set<number>();
  const isFree = taken.slice();
  let x: Float64Array = new Float64Array(p);
  const steepness = columns.map((c) => Math.sqrt(dot(c, c)));
  const size = Math.sqrt(dot(y, y));
  x = solve(columns, y, taken) ?? x;
  // each column enters at most a few times; the bound guards against cycling in the last digit
  for (let round = 0; round < 6 * p; round++) {
    const rest = residuals(columns, y, x);
    let best = -1;
    let gain = 1e-12 * size;
    for (let j = 0; j < p; j++) {
      const g = taken[j] || barred.has(j) || steepness[j] === 0 ? 0 : dot(columns[j], rest) / steepness[j];
      if (g > gain) [best, gain] = [j, g];
    }
    if (best < 0) break;
    taken[best] = true;
    const trial = solve(columns, y, taken);
    if (!trial || trial[best] <= 0) {
      // a column that hangs on the others, or one that rounding let in
      taken[best] = false;
      barred.add(best);
      continue;
    }
    barred.clear();
    x = shrink(columns, y, taken, isFree, x, trial);
  }
  const rest = residuals(columns, y, x);
  return { coefficients: x, rss: dot(rest, rest) };
}

/** Goes from a feasible point towards the trial one, and lets go each coefficient that reaches zero, until all of the trial is feasible. */
function shrink(
  columns: Float64Array[],
  y: Float64Array,
  taken: boolean[],
  isFree: boolean[],
  from: Float64Array,
  towards: Float64Array,
): Float64Array {
  let x: Float64Array = from;
  let trial: Float64Array = towards;
  for (;;) {
    const below = columns.flatMap((_, j) =>
      taken[j] && !isFree[j] && trial[j] <= 0 ? [{ j, reach: x[j] > 0 ? x[j] / (x[j] - trial[j]) : 0 }] : [],
    );
    if (below.length === 0) return trial;
    const first = below.reduce((a, b) => (b.reach < a.reach ? b : a));
    const share = Math.max(0, Math.min(1, first.reach));
    x = x.map((v, j) => (isFree[j] ? v + share * (trial[j] - v) : Math.max(0, v + share * (trial[j] - v))));
    // whichever reaches zero first leaves, whatever rounding left of it
    taken[first.j] = false;
    x[first.j] = 0;
    trial = solve(columns, y, taken) ?? x;
  }
}

function solve(columns: Float64Array[], y: Float64Array, taken: boolean[]): Float64Array | null {
  const used = columns.flatMap((_, j) => (taken[j] ? [j] : []));
  if (used.length === 0) return new Float64Array(columns.length);
  const fitted = leastSquares(
    used.map((j) => columns[j]),
    y,
  );
  if (!fitted) return null;
  const x = new Float64Array(columns.length);
  used.forEach((j, k) => {
    x[j] = fitted.coefficients[k];
  });
  return x;
}

function residuals(columns: Float64Array[], y: Float64Array, x: Float64Array): Float64Array {
  const rest = Float64Array.from(y);
  x.forEach((v, j) => {
    if (v === 0) return;
    const c = columns[j];
    for (let i = 0; i < rest.length; i++) rest[i] -= v * c[i];
  });
  return rest;
}

function dot(a: Float64Array, b: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < a.length; i++) sum += a[i] * b[i];
  return sum;
}
