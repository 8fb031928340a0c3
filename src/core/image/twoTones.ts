import { otsu } from './otsu';

/** Cells with their tone: log light, and the log light of red and of blue over that of green; x and y run from −1 to 1 over the part. */
export interface Cells {
  x: Float32Array;
  y: Float32Array;
  tone: [Float32Array, Float32Array, Float32Array];
  /** variance of each below which nothing is told: what a JPEG's rounding of whole blocks leaves */
  floor: [number, number, number];
}

/** Two tones under light that changes smoothly over the part. */
export interface TwoTones {
  /** light over the part: coefficients of 1, x, y, x², xy, y² for each of the three of a tone */
  light: [Float64Array, Float64Array, Float64Array];
  /** the second tone less the first */
  step: Float64Array;
  /** direction that tells them apart best (Fisher 1936) */
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
const FOLLOWED = 4;
const ROUNDS = 40;
/** of log-likelihood: nearer ends are one */
const SAME = 1;
/** of half the sides */
const MIDDLES = [0.5, 0.7, 0.85, 1];
/** A tone that fewer cells show is no tone but a fleck. */
const LEAST_CELLS = 12;

/**
 * Tells two tones apart where the light is uneven, by classification EM: light and tones are fitted to the cells as they are classed, and
 * the cells classed anew by Fisher's discriminant, until nothing changes (Celeux & Govaert 1992, common covariance). It begins from several
 * first guesses, among them Otsu's threshold of lightness and of two hues, and keeps the likeliest end.
 * @returns null where no start leads to two tones
 */
export function twoTones(cells: Cells): TwoTones | null {
  const sums = sumsOf(cells);
  const starts = firstGuesses(cells)
    .map((classes) => settle(cells, sums, classes, FIRST_ROUNDS))
    .filter((s) => s !== null)
    .sort((a, b) => b.tones.likelihood - a.tones.likelihood)
    // most starts run together within a few rounds: only the best of those that did not are followed to their end
    .filter((s, i, all) => i === 0 || all[i - 1].tones.likelihood - s.tones.likelihood > SAME);
  const ends = starts.slice(0, FOLLOWED).map((s) => settle(cells, sums, s.classes, ROUNDS));
  return ends.reduce<TwoTones | null>((best, e) => (e && (best === null || e.tones.likelihood > best.likelihood) ? e.tones : best), null);
}

/** Tells the tones of cells anew, from tones that were found on nearly the same ones. */
export function refineTones(cells: Cells, { light, step, direction }: TwoTones): TwoTones | null {
  const score = toneScorer({ light, step, direction });
  const classes = Uint8Array.from(cells.x, (x, i) =>
    score(x, cells.y[i], cells.tone[0][i], cells.tone[1][i], cells.tone[2][i]) > 0.5 ? 1 : 0,
  );
  return settle(cells, sumsOf(cells), classes, ROUNDS)?.tones ?? null;
}

/** Light at a place, by its coefficients. */
export const lightAt = (c: Float64Array, x: number, y: number): number =>
  c[0] + c[1] * x + c[2] * y + c[3] * x * x + c[4] * x * y + c[5] * y * y;

/** Gives the position of a cell between the first tone (0) and the second (1), from its place and tone. */
export function toneScorer({ light, step, direction: d }: Pick<TwoTones, 'light' | 'step' | 'direction'>) {
  const whole = d[0] * step[0] + d[1] * step[1] + d[2] * step[2];
  // one smooth surface along the direction instead of three
  const along = light[0].map((_, k) => d[0] * light[0][k] + d[1] * light[1][k] + d[2] * light[2][k]);
  return (x: number, y: number, l: number, r: number, b: number) => (d[0] * l + d[1] * r + d[2] * b - lightAt(along, x, y)) / whole;
}

/**
 * Classes to begin from: Otsu's threshold of lightness and of two hues, as they are and evened out, the tails of each,
 * and material that lies in the middle, where light that falls off hides a faint step from every threshold.
 */
function firstGuesses({ x, y, tone: [light, red, blue] }: Cells): Uint8Array[] {
  const guesses: Uint8Array[] = [];
  for (const values of [light, red.map((r, i) => r - blue[i]), red.map((r, i) => -0.5 * (r + blue[i]))]) {
    if (values.every((v) => v === 0)) continue;
    const even = evenedOut(x, y, values);
    for (const v of [values, even]) guesses.push(above(v, otsu(v)));
    const middle = median(even);
    const reach = 1.4826 * median(even.map((w) => Math.abs(w - middle)));
    if (reach === 0) continue;
    for (const k of [3, 5, 8]) guesses.push(above(even, middle + k * reach), above(even, middle - k * reach));
  }
  for (const r of MIDDLES) guesses.push(Uint8Array.from(x, (v, i) => (Math.abs(v) ** 3 + Math.abs(y[i]) ** 3 < r ** 3 ? 1 : 0)));
  return guesses;
}

function above(values: Float32Array, boundary: number): Uint8Array {
  const classes = new Uint8Array(values.length);
  for (let i = 0; i < values.length; i++) if (values[i] > boundary) classes[i] = 1;
  return classes;
}

const median = (values: Float32Array): number => Float32Array.from(values).sort()[values.length >> 1];

/** What is left of the values when smooth light is taken out, far ones counting less each round (Tukey's biweight). */
function evenedOut(x: Float32Array, y: Float32Array, values: Float32Array): Float32Array {
  const n = values.length;
  const rest = new Float32Array(n);
  const weight = new Float32Array(n).fill(1);
  for (let round = 0; round < 5; round++) {
    const { gram, right } = lightSums(x, y, [values], weight);
    const light = cholesky(gram, right)[0];
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
function settle(cells: Cells, sums: LightSums, start: Uint8Array, rounds: number): { tones: TwoTones; classes: Uint8Array } | null {
  const { x, y, tone } = cells;
  const n = x.length;
  const classes = Uint8Array.from(start);
  let tones: TwoTones | null = null;
  for (let round = 0; round < rounds; round++) {
    let second = 0;
    for (let i = 0; i < n; i++) second += classes[i];
    if (second < LEAST_CELLS || n - second < LEAST_CELLS) return null;
    tones = tonesOf(cells, classes, second / n, sums);
    // the likelier class: half-way, moved by how common each is
    const boundary = 0.5 + Math.log((1 - tones.share) / tones.share) / tones.separation ** 2;
    const score = toneScorer(tones);
    let changed = 0;
    for (let i = 0; i < n; i++) {
      const k = score(x[i], y[i], tone[0][i], tone[1][i], tone[2][i]) > boundary ? 1 : 0;
      if (k !== classes[i]) changed++;
      classes[i] = k;
    }
    if (changed === 0) break;
  }
  return tones && { tones, classes };
}

/**
 * Light and tones of cells as they are classed.
 * @param classes 0 or 1 for each cell, either of them some
 * @param share of the second
 * @param sums of these cells, where they are known
 */
export function tonesOf(cells: Cells, classes: Uint8Array, share: number, sums = sumsOf(cells)): TwoTones {
  const { light, step } = fitTones(cells, sums, classes);
  const scatter = scatterAbout(cells, classes, light, step);
  for (let c = 0; c < 3; c++) scatter[4 * c] += cells.floor[c];
  const { solution: direction, determinant } = solve3(scatter, step);
  const squared = direction[0] * step[0] + direction[1] * step[1] + direction[2] * step[2];
  const likelihood = cells.x.length * (share * Math.log(share) + (1 - share) * Math.log(1 - share) - 0.5 * Math.log(determinant));
  return { light: light as TwoTones['light'], step, direction, separation: Math.sqrt(squared), share, likelihood };
}

/** Mean products of what light and step leave of each pair of the three, row by row. */
function scatterAbout({ x, y, tone: [r, g, b] }: Cells, classes: Uint8Array, light: Float64Array[], step: Float64Array): Float64Array {
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

const sumsOf = ({ x, y, tone }: Cells) => lightSums(x, y, tone, null);

/** Sums of the light's terms over all cells, by themselves and with each of the three of a tone. */
interface LightSums {
  gram: Float64Array[];
  right: Float64Array[];
}

/** @param weight of each cell; null where all count alike */
function lightSums(x: Float32Array, y: Float32Array, values: Float32Array[], weight: Float32Array | null): LightSums {
  const gram = Array.from({ length: TERMS }, () => new Float64Array(TERMS));
  const right = values.map(() => new Float64Array(TERMS));
  const t = new Float64Array(TERMS);
  for (let i = 0; i < x.length; i++) {
    const w = weight ? weight[i] : 1;
    if (w === 0) continue;
    terms(t, x[i], y[i]);
    for (let a = 0; a < TERMS; a++) {
      const wt = w * t[a];
      for (let b = a; b < TERMS; b++) gram[a][b] += wt * t[b];
      for (let k = 0; k < values.length; k++) right[k][a] += wt * values[k][i];
    }
  }
  return { gram, right };
}

function terms(t: Float64Array, x: number, y: number): void {
  t[0] = 1;
  t[1] = x;
  t[2] = y;
  t[3] = x * x;
  t[4] = x * y;
  t[5] = y * y;
}

/** Least squares of smooth light and one step; the terms are few and of like size, so normal equations do. */
function fitTones({ x, y, tone }: Cells, sums: LightSums, classes: Uint8Array): { light: Float64Array[]; step: Float64Array } {
  const cross = new Float64Array(TERMS + 1);
  const second = new Float64Array(3);
  const t = new Float64Array(TERMS);
  for (let i = 0; i < x.length; i++) {
    if (classes[i] === 0) continue;
    terms(t, x[i], y[i]);
    for (let a = 0; a < TERMS; a++) cross[a] += t[a];
    for (let c = 0; c < 3; c++) second[c] += tone[c][i];
  }
  cross[TERMS] = cross[0];
  const gram = [...sums.gram.map((row, a) => Float64Array.of(...row, cross[a])), Float64Array.of(...new Float64Array(TERMS), cross[TERMS])];
  const solved = cholesky(
    gram,
    sums.right.map((row, c) => Float64Array.of(...row, second[c])),
  );
  return { light: solved.map((r) => r.slice(0, TERMS)), step: Float64Array.from(solved, (r) => r[TERMS]) };
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
  const solution = Float64Array.from(
    { length: 3 },
    (_, r) => (cofactor(0, r) * b[0] + cofactor(1, r) * b[1] + cofactor(2, r) * b[2]) / determinant,
  );
  return { solution, determinant };
}
