import { otsu } from './otsu';

/** Cells with the logarithm of their light in three colours; x and y run from −1 to 1 over the part. */
export interface Cells {
  x: Float32Array;
  y: Float32Array;
  log: [Float32Array, Float32Array, Float32Array];
}

/** Two tones under light that changes smoothly over the part. */
export interface TwoTones {
  /** light over the part: coefficients of 1, x, y, x², xy, y² for each colour, in log light */
  light: [Float64Array, Float64Array, Float64Array];
  /** the second tone less the first, for each colour, in log light */
  step: Float64Array;
  /** direction in log colour that tells them apart best (Fisher 1936) */
  direction: Float64Array;
  /** distance of the tones along it, in standard deviations */
  separation: number;
  /** share of the second tone */
  share: number;
  /** log-likelihood of the classification; greater is better */
  likelihood: number;
}

const TERMS = 6;
const FIRST_ROUNDS = 4;
const FOLLOWED = 3;
const ROUNDS = 25;
/** A tone that fewer cells show is no tone but a fleck. */
const LEAST_CELLS = 12;
/** of log light, so that a flat synthetic picture has a scatter too */
const RIDGE = 1e-5;

/**
 * Tells two tones apart where the light is uneven, by classification EM: light and tones are fitted to the
 * cells as they are classed, and the cells classed anew by Fisher's discriminant, until nothing changes
 * (Celeux & Govaert 1992, common covariance). It begins from several first guesses, among them Otsu's threshold
 * of each colour, and keeps the likeliest end.
 * @returns null where no start leads to two tones
 */
export function twoTones(cells: Cells): TwoTones | null {
  const starts = firstGuesses(cells)
    .map((classes) => settle(cells, classes, FIRST_ROUNDS))
    .filter((s) => s !== null)
    .sort((a, b) => b.tones.likelihood - a.tones.likelihood);
  // most starts run together within a few rounds: only the best are followed to their end
  const ends = starts.slice(0, FOLLOWED).map((s) => settle(cells, s.classes, ROUNDS));
  return ends.reduce<TwoTones | null>((best, e) => (e && (best === null || e.tones.likelihood > best.likelihood) ? e.tones : best), null);
}

/** Tells the tones of cells anew, from tones that were found on nearly the same ones. */
export function refineTones(cells: Cells, { light, step, direction }: TwoTones): TwoTones | null {
  const score = toneScorer({ light, step, direction });
  const classes = Uint8Array.from(cells.x, (x, i) => (score(x, cells.y[i], cells.log[0][i], cells.log[1][i], cells.log[2][i]) > 0.5 ? 1 : 0));
  return settle(cells, classes, ROUNDS)?.tones ?? null;
}

/** Log light of one colour at a place, by its coefficients. */
export function lightAt(c: Float64Array, x: number, y: number): number {
  return c[0] + c[1] * x + c[2] * y + c[3] * x * x + c[4] * x * y + c[5] * y * y;
}

/** Gives the position of a cell between the first tone (0) and the second (1), from its place and log colour. */
export function toneScorer({ light, step, direction: d }: Pick<TwoTones, 'light' | 'step' | 'direction'>) {
  const whole = d[0] * step[0] + d[1] * step[1] + d[2] * step[2];
  // one smooth surface along the direction instead of three
  const along = light[0].map((_, k) => d[0] * light[0][k] + d[1] * light[1][k] + d[2] * light[2][k]);
  return (x: number, y: number, r: number, g: number, b: number) => (d[0] * r + d[1] * g + d[2] * b - lightAt(along, x, y)) / whole;
}

/** Classes to begin from: Otsu's threshold of lightness and of two hues, as they are and evened out, and the tails of each. */
function firstGuesses({ x, y, log }: Cells): Uint8Array[] {
  const n = x.length;
  const [r, g, b] = log;
  const guesses: Uint8Array[] = [];
  for (const [p, q, s] of [
    [1 / 3, 1 / 3, 1 / 3],
    [1, 0, -1],
    [-0.5, 1, -0.5],
  ]) {
    const values = new Float32Array(n);
    for (let i = 0; i < n; i++) values[i] = p * r[i] + q * g[i] + s * b[i];
    const even = evenedOut(x, y, values);
    for (const v of [values, even]) guesses.push(above(v, otsu(v)));
    const middle = median(even);
    const reach = 1.4826 * median(even.map((w) => Math.abs(w - middle)));
    for (const k of [3, 5, 8]) guesses.push(above(even, middle + k * reach), above(even, middle - k * reach));
  }
  return guesses;
}

function above(values: Float32Array, boundary: number): Uint8Array {
  const classes = new Uint8Array(values.length);
  for (let i = 0; i < values.length; i++) if (values[i] > boundary) classes[i] = 1;
  return classes;
}

function median(values: Float32Array): number {
  return Float32Array.from(values).sort()[values.length >> 1];
}

/** What is left of the values when smooth light is taken out, far ones counting less each round (Tukey's biweight). */
function evenedOut(x: Float32Array, y: Float32Array, values: Float32Array): Float32Array {
  const n = values.length;
  const rest = new Float32Array(n);
  const weight = new Float32Array(n).fill(1);
  for (let round = 0; round < 5; round++) {
    const light = fitTones(x, y, [values], null, weight).light[0];
    for (let i = 0; i < n; i++) rest[i] = values[i] - lightAt(light, x[i], y[i]);
    const reach = 3 * (1.4826 * median(rest.map((r) => Math.abs(r))) + 1e-6);
    for (let i = 0; i < n; i++) {
      const u = rest[i] / reach;
      weight[i] = Math.abs(u) < 1 ? (1 - u * u) ** 2 : 0;
    }
  }
  return rest;
}

/** Fits and classes in turns until the classes stay, or the rounds are over; null where one class runs empty. */
function settle(cells: Cells, start: Uint8Array, rounds: number): { tones: TwoTones; classes: Uint8Array } | null {
  const { x, y, log } = cells;
  const n = x.length;
  const classes = Uint8Array.from(start);
  let tones: TwoTones | null = null;
  for (let round = 0; round < rounds; round++) {
    let second = 0;
    for (let i = 0; i < n; i++) second += classes[i];
    if (second < LEAST_CELLS || n - second < LEAST_CELLS) return null;
    const { light, step } = fitTones(x, y, log, classes, null);
    const scatter = scatterAbout(cells, classes, light, step);
    for (let k = 0; k < 9; k += 4) scatter[k] += RIDGE;
    const { solution: direction, determinant } = solve3(scatter, step);
    const squared = direction[0] * step[0] + direction[1] * step[1] + direction[2] * step[2];
    const share = second / n;
    const likelihood = n * (share * Math.log(share) + (1 - share) * Math.log(1 - share) - 0.5 * Math.log(determinant));
    tones = { light: light as TwoTones['light'], step, direction, separation: Math.sqrt(squared), share, likelihood };
    // the likelier class: half-way, moved by how common each is
    const boundary = 0.5 + Math.log((1 - share) / share) / squared;
    const score = toneScorer(tones);
    let changed = 0;
    for (let i = 0; i < n; i++) {
      const k = score(x[i], y[i], log[0][i], log[1][i], log[2][i]) > boundary ? 1 : 0;
      if (k !== classes[i]) changed++;
      classes[i] = k;
    }
    if (changed === 0) break;
  }
  return tones && { tones, classes };
}

/** Mean products of what light and step leave of each pair of colours, row by row. */
function scatterAbout({ x, y, log: [r, g, b] }: Cells, classes: Uint8Array, light: Float64Array[], step: Float64Array): Float64Array {
  const n = x.length;
  let [rr, rg, rb, gg, gb, bb] = [0, 0, 0, 0, 0, 0];
  for (let i = 0; i < n; i++) {
    const dr = r[i] - lightAt(light[0], x[i], y[i]) - classes[i] * step[0];
    const dg = g[i] - lightAt(light[1], x[i], y[i]) - classes[i] * step[1];
    const db = b[i] - lightAt(light[2], x[i], y[i]) - classes[i] * step[2];
    rr += dr * dr;
    rg += dr * dg;
    rb += dr * db;
    gg += dg * dg;
    gb += dg * db;
    bb += db * db;
  }
  return Float64Array.of(rr, rg, rb, rg, gg, gb, rb, gb, bb).map((v) => v / n);
}

/** Least squares of smooth light and, where classes are given, one step; the terms are few and of like size, so normal equations do. */
function fitTones(
  x: Float32Array,
  y: Float32Array,
  values: Float32Array[],
  classes: Uint8Array | null,
  weight: Float32Array | null,
): { light: Float64Array[]; step: Float64Array } {
  const p = classes ? TERMS + 1 : TERMS;
  const gram = Array.from({ length: p }, () => new Float64Array(p));
  const right = values.map(() => new Float64Array(p));
  const t = new Float64Array(p);
  for (let i = 0; i < x.length; i++) {
    const w = weight ? weight[i] : 1;
    if (w === 0) continue;
    t[0] = 1;
    t[1] = x[i];
    t[2] = y[i];
    t[3] = x[i] * x[i];
    t[4] = x[i] * y[i];
    t[5] = y[i] * y[i];
    if (classes) t[TERMS] = classes[i];
    for (let a = 0; a < p; a++) {
      const wt = w * t[a];
      if (wt === 0) continue;
      for (let b = a; b < p; b++) gram[a][b] += wt * t[b];
      for (let k = 0; k < values.length; k++) right[k][a] += wt * values[k][i];
    }
  }
  const solved = cholesky(gram, right);
  return { light: solved.map((s) => s.slice(0, TERMS)), step: Float64Array.from(solved, (s) => s[TERMS] ?? 0) };
}

/** Solves a symmetric positive system for several right sides; a pivot near nothing is held up by a little. */
function cholesky(gram: Float64Array[], right: Float64Array[]): Float64Array[] {
  const p = gram.length;
  const l = gram.map((row, a) => Float64Array.from(row, (_, b) => (b < a ? gram[b][a] : row[b])));
  for (let j = 0; j < p; j++) {
    for (let k = 0; k < j; k++) for (let i = j; i < p; i++) l[i][j] -= l[i][k] * l[j][k];
    const pivot = Math.sqrt(Math.max(l[j][j], 1e-9 * (gram[j][j] + 1e-12)));
    for (let i = j; i < p; i++) l[i][j] /= pivot;
  }
  return right.map((b) => {
    const s = Float64Array.from(b);
    for (let i = 0; i < p; i++) {
      for (let k = 0; k < i; k++) s[i] -= l[i][k] * s[k];
      s[i] /= l[i][i];
    }
    for (let i = p - 1; i >= 0; i--) {
      for (let k = i + 1; k < p; k++) s[i] -= l[k][i] * s[k];
      s[i] /= l[i][i];
    }
    return s;
  });
}

/** Solves a 3 × 3 system by cofactors, with its determinant. */
function solve3(m: Float64Array, b: Float64Array): { solution: Float64Array; determinant: number } {
  const cofactor = (r: number, c: number) => {
    const [r1, r2] = [(r + 1) % 3, (r + 2) % 3];
    const [c1, c2] = [(c + 1) % 3, (c + 2) % 3];
    return m[3 * r1 + c1] * m[3 * r2 + c2] - m[3 * r1 + c2] * m[3 * r2 + c1];
  };
  const determinant = m[0] * cofactor(0, 0) + m[1] * cofactor(0, 1) + m[2] * cofactor(0, 2);
  const solution = Float64Array.from({ length: 3 }, (_, r) => (cofactor(0, r) * b[0] + cofactor(1, r) * b[1] + cofactor(2, r) * b[2]) / determinant);
  return { solution, determinant };
}
