import { leastSquares } from '#core/stats/leastSquares';
import type { RankingRow } from './types';

/** Columns of the model: one a set-up, one a material but the base. */
export interface RankingDesign {
  rows: RankingRow[];
  setups: string[];
  /** in the order of their first appearance; the coefficient of the base is 0 */
  materials: string[];
  base: string;
  columns: Float64Array[];
}

/** The additive model of set-ups and materials for connected rows. */
export function rankingDesign(rows: RankingRow[], base: string): RankingDesign {
  const setups = [...new Set(rows.map((r) => r.setup))];
  const materials = [...new Set(rows.map((r) => r.material))];
  const indicator = (holds: (row: RankingRow) => boolean) => Float64Array.from(rows, (r) => (holds(r) ? 1 : 0));
  return {
    ...{ rows, setups, materials, base },
    columns: [
      ...setups.map((s) => indicator((r) => r.setup === s)),
      ...materials.filter((m) => m !== base).map((m) => indicator((r) => r.material === m)),
    ],
  };
}

/** The model fitted with the weights of one τ². */
export interface WeightedFit {
  tau2: number;
  coefficients: Float64Array;
  /** Σ w·residual² */
  q: number;
  /** derivative of the restricted log-likelihood in τ² */
  score: number;
  /** (XᵀWX)⁻¹ */
  inverse: Float64Array[];
}

/**
 * Fits the model by weighted least squares, weights 1/(variance + τ²).
 * @throws Error where the rows are not connected
 * Source: Viechtbauer (2005), Journal of Educational and Behavioral Statistics 30, 261–293, eq. 15 (the score).
 */
export function weightedFit({ rows, columns }: RankingDesign, tau2: number): WeightedFit {
  const weights = Float64Array.from(rows, (r) => 1 / (r.variance + tau2));
  const roots = weights.map(Math.sqrt);
  const fit = leastSquares(
    columns.map((c) => c.map((x, i) => x * roots[i])),
    Float64Array.from(rows, (r, i) => r.mean * roots[i]),
  );
  if (!fit) throw new Error('The set-ups are not connected by their materials.');
  const inverse = fit.inverse();
  let squares = 0;
  let trace = 0;
  for (const [i, row] of rows.entries()) {
    const own = columns.flatMap((c, j) => (c[i] === 0 ? [] : [j]));
    const fitted = own.reduce((sum, j) => sum + fit.coefficients[j], 0);
    const leverage = own.reduce((sum, j) => sum + own.reduce((s, k) => s + inverse[j][k], 0), 0);
    squares += (weights[i] * (row.mean - fitted)) ** 2;
    trace += weights[i] - weights[i] ** 2 * leverage;
  }
  return { tau2, coefficients: fit.coefficients, q: fit.rss, score: (squares - trace) / 2, inverse };
}

/** Coefficient of a material in a fit: how far it lies above the base. */
const placeOf = ({ setups, materials, base }: RankingDesign, material: string): number =>
  material === base ? -1 : setups.length + materials.filter((m) => m !== base).indexOf(material);

/** Difference of two materials in a fit and its variance, without any factor. */
export function contrast(
  design: RankingDesign,
  { coefficients, inverse }: WeightedFit,
  a: string,
  b: string,
): { value: number; variance: number } {
  const [i, j] = [placeOf(design, a), placeOf(design, b)];
  const at = (k: number) => (k < 0 ? 0 : coefficients[k]);
  const cov = (k: number, l: number) => (k < 0 || l < 0 ? 0 : inverse[k][l]);
  return { value: at(i) - at(j), variance: cov(i, i) + cov(j, j) - 2 * cov(i, j) };
}
