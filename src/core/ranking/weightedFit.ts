import { invertPositive } from '#core/stats/cholesky';
import type { RankingRow } from './types';

/** A row as the fit walks it: positions on the side that is solved for, and on the other that is eliminated; −1 is the base, whose effect is 0. */
interface PlacedRow {
  kept: number;
  gone: number;
}

/** The additive model of set-ups and materials for connected rows. */
export interface RankingDesign {
  rows: RankingRow[];
  setups: string[];
  /** in the order of their first appearance; the effect of the base is 0 */
  materials: string[];
  base: string;
  /** one a set-up, one a material but the base */
  parameters: number;
  /** whether materials are solved for, there being fewer of them than set-ups */
  solvesMaterials: boolean;
  /** position of each material but the base among them */
  places: Map<string, number>;
  placed: PlacedRow[];
  /** set-ups that have each material */
  setupsOf: Map<string, Set<string>>;
  /** rows by what is eliminated, the base's own last */
  byGone: number[][];
}

/** The additive model for rows that are connected to the base. */
export function rankingDesign(rows: RankingRow[], base: string): RankingDesign {
  const setups = [...new Set(rows.map((r) => r.setup))];
  const materials = [...new Set(rows.map((r) => r.material))];
  const places = new Map(materials.filter((m) => m !== base).map((m, i) => [m, i]));
  const setupPlaces = new Map(setups.map((s, i) => [s, i]));
  const solvesMaterials = places.size < setups.length;
  const placed = rows.map((r): PlacedRow => {
    const [setup, material] = [setupPlaces.get(r.setup) as number, places.get(r.material) ?? -1];
    return solvesMaterials ? { kept: material, gone: setup } : { kept: setup, gone: material };
  });
  const byGone: number[][] = Array.from({ length: (solvesMaterials ? setups.length : places.size) + 1 }, () => []);
  for (const [i, { gone }] of placed.entries()) byGone[gone < 0 ? byGone.length - 1 : gone].push(i);
  const setupsOf = new Map(materials.map((m) => [m, new Set<string>()]));
  for (const r of rows) setupsOf.get(r.material)?.add(r.setup);
  return { rows, setups, materials, base, setupsOf, parameters: setups.length + places.size, solvesMaterials, places, placed, byGone };
}

/** The model fitted with the weights of one τ². */
export interface WeightedFit {
  tau2: number;
  /** how far a material lies above the base */
  effect(material: string): number;
  /** of the difference of two materials, without any factor */
  variance(a: string, b: string): number;
  /** of the effects of some materials and, last, of a set-up where one is asked for; without any factor */
  covariances(materials: string[], setup: string | null): Float64Array[];
  /** Σ w·residual² */
  q: number;
  /** derivative of the restricted log-likelihood in τ² */
  score(): number;
}

/**
 * Fits the model by weighted least squares, weights 1/(variance + τ²). Its normal equations are those of a network of conductances between
 * set-ups and materials: the larger side is eliminated exactly, and the diagonal of what remains is summed from its conductances, so that
 * nothing cancels; a second pass over the residuals takes out what rounding left.
 * @throws Error where the rows are not connected
 * Source: Rücker (2012), Research Synthesis Methods 3, 312–324 (the network of conductances); Viechtbauer (2005), Journal of Educational
 * and Behavioral Statistics 30, 261–293, eq. 15 (the score).
 */
export function weightedFit(design: RankingDesign, tau2: number): WeightedFit {
  const { rows, placed, byGone, solvesMaterials, setups, places, base } = design;
  const weights = Float64Array.from(rows, (r) => 1 / (r.variance + tau2));
  const keptSize = solvesMaterials ? places.size : setups.length;
  const isBaseGone = !solvesMaterials;
  const totals = Float64Array.from(byGone, (own) => own.reduce((sum, i) => sum + weights[i], 0));
  const isDropped = (gone: number) => isBaseGone && gone === byGone.length - 1;
  const inverse = keptSize === 0 ? [] : invertPositive(conductances(design, weights, totals, keptSize, isDropped));
  if (!inverse) throw new Error('The set-ups are not connected by their materials.');

  const kept = new Float64Array(keptSize);
  const gone = new Float64Array(byGone.length);
  const residuals = Float64Array.from(rows, (r) => r.mean);
  const solve = () => {
    const right = new Float64Array(keptSize);
    const sums = new Float64Array(byGone.length);
    for (const [g, own] of byGone.entries()) {
      if (!isDropped(g)) {
        for (const i of own) sums[g] += weights[i] * residuals[i];
        sums[g] /= totals[g] || 1;
      }
      for (const i of own) if (placed[i].kept >= 0) right[placed[i].kept] += weights[i] * (residuals[i] - sums[g]);
    }
    const step = inverse.map((row) => row.reduce((sum, v, j) => sum + v * right[j], 0));
    for (let k = 0; k < keptSize; k++) kept[k] += step[k];
    for (const [g, own] of byGone.entries()) {
      if (isDropped(g)) continue;
      let shift = sums[g];
      for (const i of own) if (placed[i].kept >= 0) shift -= (weights[i] / totals[g]) * step[placed[i].kept];
      gone[g] += shift;
    }
    for (const [i, p] of placed.entries()) residuals[i] = rows[i].mean - (p.kept < 0 ? 0 : kept[p.kept]) - (p.gone < 0 ? 0 : gone[p.gone]);
  };
  solve();
  solve();

  let q = 0;
  for (let i = 0; i < rows.length; i++) q += weights[i] * residuals[i] ** 2;
  /** what an eliminated effect takes from the kept ones */
  const taken = (g: number): [kept: number, share: number][] =>
    byGone[g].flatMap((i): [number, number][] => (placed[i].kept < 0 ? [] : [[placed[i].kept, -weights[i] / totals[g]]]));
  const parts = (at: number | undefined, isKept: boolean): { u: [number, number][]; own: number } => {
    if (at === undefined) return { u: [], own: 0 };
    return isKept ? { u: [[at, 1]], own: 0 } : { u: taken(at), own: 1 / totals[at] };
  };
  const ofMaterial = (material: string) => parts(places.get(material), solvesMaterials);
  const product = (a: [number, number][], b: [number, number][]) => {
    let sum = 0;
    for (const [i, x] of a) for (const [j, y] of b) sum += x * y * inverse[i][j];
    return sum;
  };
  return {
    tau2,
    q,
    effect: (material) => (material === base ? 0 : (solvesMaterials ? kept : gone)[places.get(material) as number]),
    variance: (a, b) => {
      if (a === b) return 0;
      const [one, other] = [ofMaterial(a), ofMaterial(b)];
      return one.own + other.own + product(one.u, one.u) + product(other.u, other.u) - 2 * product(one.u, other.u);
    },
    covariances: (materials, setup) => {
      const all = [...materials.map(ofMaterial), ...(setup === null ? [] : [parts(setups.indexOf(setup), !solvesMaterials)])];
      return all.map((a, i) => Float64Array.from(all, (b, j) => (i === j ? a.own : 0) + product(a.u, b.u)));
    },
    score: () => {
      let [squares, trace] = [0, 0];
      for (let i = 0; i < rows.length; i++) squares += (weights[i] * residuals[i]) ** 2;
      for (const [g, own] of byGone.entries()) {
        const u = isDropped(g) ? [] : taken(g);
        const through = new Float64Array(keptSize);
        for (const [j, y] of u) for (let k = 0; k < keptSize; k++) through[k] += inverse[k][j] * y;
        const between = u.reduce((sum, [j, y]) => sum + y * through[j], 0) + (isDropped(g) ? 0 : 1 / totals[g]);
        for (const i of own) {
          const k = placed[i].kept;
          const leverage = between + (k < 0 ? 0 : inverse[k][k] + 2 * through[k]);
          trace += weights[i] - weights[i] ** 2 * leverage;
        }
      }
      return (squares - trace) / 2;
    },
  };
}

/** Conductances between what is kept: through each eliminated node, and to the base. */
function conductances(
  { placed, byGone }: RankingDesign,
  weights: Float64Array,
  totals: Float64Array,
  size: number,
  isDropped: (gone: number) => boolean,
): Float64Array[] {
  const matrix = Array.from({ length: size }, () => new Float64Array(size));
  for (const [g, own] of byGone.entries()) {
    if (isDropped(g)) {
      for (const i of own) matrix[placed[i].kept][placed[i].kept] += weights[i];
      continue;
    }
    for (const [n, i] of own.entries())
      for (let m = 0; m < n; m++) {
        const between = (weights[i] * weights[own[m]]) / totals[g];
        const [a, b] = [placed[i].kept, placed[own[m]].kept];
        if (a >= 0) matrix[a][a] += between;
        if (b >= 0) matrix[b][b] += between;
        if (a >= 0 && b >= 0) {
          matrix[a][b] -= between;
          matrix[b][a] -= between;
        }
      }
  }
  return matrix;
}

/** Difference of two materials in a fit and its variance, without any factor. */
export const contrast = (fit: WeightedFit, a: string, b: string): { value: number; variance: number } => ({
  value: fit.effect(a) - fit.effect(b),
  variance: fit.variance(a, b),
});
