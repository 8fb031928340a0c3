import { tQuantile } from '../stats/distributions/t';
import { leastSquares } from '../stats/leastSquares';

/** Interfaces of one material at several thicknesses. */
export interface ShimReading {
  /** bond line, mm */
  thickness_mm: number;
  /** resistance of the interface, K/W; offsets of the rest of the stack end up in the contact term */
  k_per_w: number;
}

export interface BondLineFit {
  /** conductivity, W/(m·K), with its interval; the upper end is null where the slope may be nought */
  k: number;
  k_ci: [number, number | null];
  /** both contacts and whatever else does not grow with the thickness, mm²·K/W */
  contact: number;
  contact_ci: [number, number];
  /** resistance times area at no thickness and its slope's scatter, mm²·K/W */
  residual_sd: number;
  df: number;
}

/**
 * Conductivity and contact term from resistance times area against thickness: R·A = t/k + contact, a straight line
 * (the evaluation of ASTM D5470). Intervals are those of slope and intercept; that of k comes from the slope's by inversion, so that it is not symmetric.
 *
 * Limits: one material and one pressure throughout; thicknesses taken as exact, so that their errors ought to be small beside their range.
 * @returns null for fewer than three readings, one thickness only, or where resistance does not grow with thickness
 */
export function fitBondLine(readings: ShimReading[], area_mm2: number, confidence: number): BondLineFit | null {
  if (readings.length < 3) return null;
  const x = Float64Array.from(readings, (r) => r.thickness_mm);
  const fit = leastSquares(
    [x.map(() => 1), x],
    Float64Array.from(readings, (r) => r.k_per_w * area_mm2),
  );
  if (!fit) return null;
  const [contact, slope] = fit.coefficients;
  if (!(slope > 0)) return null;
  const df = readings.length - 2;
  const variance = fit.rss / df;
  const inverse = fit.inverse();
  const t = tQuantile((1 + confidence) / 2, df);
  const [contactHalf, slopeHalf] = [0, 1].map((i) => t * Math.sqrt(variance * inverse[i][i]));
  // mm²·K/W over mm is mm·K/W; in W/(m·K) its inverse is a thousandfold
  const toK = (s: number) => 1000 / s;
  return {
    ...{ k: toK(slope), k_ci: [toK(slope + slopeHalf), slope > slopeHalf ? toK(slope - slopeHalf) : null] },
    ...{ contact, contact_ci: [contact - contactHalf, contact + contactHalf], residual_sd: Math.sqrt(variance), df },
  };
}
