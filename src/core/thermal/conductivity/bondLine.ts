import { tQuantile } from '#core/stats/distributions/t';
import { leastSquares } from '#core/stats/leastSquares';
import { mean } from '#core/stats/moments';

/** Interfaces of one material at several thicknesses; readings of one thickness are repeats on one shim. */
export interface ShimReading {
  /** bond line, mm */
  thickness_mm: number;
  /** resistance of the interface, K/W; offsets of the rest of the stack end up in the contact term */
  k_per_w: number;
}

interface BondLineOptions {
  confidence: number;
  /** standard uncertainty of a shim's thickness, mm */
  thickness_u_mm: number;
}

export interface BondLineFit {
  ok: true;
  shims: number;
  /** conductivity, W/(m·K), with its interval; the upper end is null where the slope may be nought */
  k: number;
  k_ci: [number, number | null] | null;
  /** both contacts and whatever else does not grow with the thickness, mm²·K/W */
  contact: number;
  contact_ci: [number, number] | null;
  /** why there is no interval */
  without_interval: 'two_shims' | 'exact' | null;
}

export interface NoBondLine {
  ok: false;
  why: 'few_readings' | 'one_thickness' | 'not_growing' | 'negative_contact';
  /** of a contact that lies below nought, mm²·K/W */
  contact_ci?: [number, number];
}

/**
 * Conductivity and contact term from resistance times area against thickness: R·A = t/k + contact, a straight line (the evaluation of ASTM
 * D5470). A shim is the unit: what its repeats share does not scatter in them, so they are averaged. Whether the scatter is the same at all
 * thicknesses or grows with the resistance cannot be told from a few shims: both lines are fitted, the likelier is told, and the interval
 * holds both of theirs. An error of the thicknesses, which would make the slope too small, enters by effective variance. The interval of k
 * is that of the slope by inversion, so that it is not symmetric.
 *
 * Limits: one material and one pressure throughout; three shims at least for an interval. A contact that lies below nought with its whole
 * interval is none: pressures or faces differed, or the line is bent.
 */
export function fitBondLine(
  readings: ShimReading[],
  area_mm2: number,
  { confidence, thickness_u_mm }: BondLineOptions,
): BondLineFit | NoBondLine {
  if (readings.length < 3) return { ok: false, why: 'few_readings' };
  const { x, y } = shimsOf(readings, area_mm2);
  if (x.length < 2) return { ok: false, why: 'one_thickness' };
  const even = lineBy(x, y, () => 1, thickness_u_mm, confidence);
  const growing = even && lineBy(x, y, (i) => Math.max(even.at(x[i]), 0.1 * mean(y)) ** -2, thickness_u_mm, confidence);
  if (!even || !growing) return { ok: false, why: 'not_growing' };
  const line = growing.likelihood > even.likelihood ? growing : even;
  // mm²·K/W over mm is mm·K/W; in W/(m·K) its inverse is a thousandfold
  const told = { ok: true as const, shims: x.length, k: 1000 / line.slope, contact: line.contact };
  if (x.length < 3) return { ...told, k_ci: null, contact_ci: null, without_interval: 'two_shims' };
  if (line.isExact && line.contact < -1e-9 * mean(y))
    return { ok: false, why: 'negative_contact', contact_ci: [line.contact, line.contact] };
  if (line.isExact) return { ...told, k_ci: null, contact_ci: null, without_interval: 'exact' };
  const hull = (of: (l: Line) => [number, number]): [number, number] => [
    Math.min(of(even)[0], of(growing)[0]),
    Math.max(of(even)[1], of(growing)[1]),
  ];
  const slope = hull((l) => [l.slope - l.slope_half, l.slope + l.slope_half]);
  const contact_ci = hull((l) => [l.contact - l.contact_half, l.contact + l.contact_half]);
  if (contact_ci[1] < 0) return { ok: false, why: 'negative_contact', contact_ci };
  return { ...told, k_ci: [1000 / slope[1], slope[0] > 0 ? 1000 / slope[0] : null], contact_ci, without_interval: null };
}

/** Means of the repeats on each shim, thinnest first; resistance times area, mm²·K/W. */
function shimsOf(readings: ShimReading[], area_mm2: number): { x: Float64Array; y: Float64Array } {
  const shims = new Map<number, number[]>();
  for (const r of readings) shims.set(r.thickness_mm, [...(shims.get(r.thickness_mm) ?? []), r.k_per_w * area_mm2]);
  const sorted = [...shims].sort(([a], [b]) => a - b);
  return { x: Float64Array.from(sorted, ([t]) => t), y: Float64Array.from(sorted, ([, values]) => mean(values)) };
}

interface Line {
  slope: number;
  contact: number;
  slope_half: number;
  contact_half: number;
  at: (x: number) => number;
  likelihood: number;
  isExact: boolean;
}

/** Steps in which the effective variances settle. */
const ROUNDS = 20;

/**
 * A weighted line.
 * @param weightOf inverse variance of a shim's resistance, but for a factor
 * @param u standard uncertainty of the thicknesses
 * @returns null where it does not rise
 */
function lineBy(x: Float64Array, y: Float64Array, weightOf: (i: number) => number, u: number, confidence: number): Line | null {
  const weights = x.map((_, i) => weightOf(i));
  let line = weighted(x, y, weights);
  const df = Math.max(1, x.length - 2);
  let effective = weights;
  if (u > 0 && line && line.slope > 0) {
    for (let round = 0; round < ROUNDS && line && line.slope > 0; round++) {
      const { slope, residuals }: Weighted = line;
      // what of the scatter the thicknesses do not explain
      const chi = residuals.reduce((sum, r, i) => sum + weights[i] * r * r, 0) / df;
      const ofThickness = mean(weights.map((w) => w * (slope * u) ** 2));
      const own = Math.max(0.05 * chi, chi - ofThickness);
      effective = weights.map((w) => 1 / (own / w + (slope * u) ** 2));
      line = errorsInBoth(x, y, effective, u, line);
    }
  }
  if (!line || !(line.slope > 0)) return null;
  const rss = line.residuals.reduce((sum, r, i) => sum + effective[i] * r * r, 0);
  const t = tQuantile((1 + confidence) / 2, df);
  const [contactHalf, slopeHalf] = [0, 1].map((i) => t * Math.sqrt((rss / df) * (line as Weighted).inverse[i][i]));
  const { slope, contact } = line;
  return {
    ...{ slope, contact, slope_half: slopeHalf, contact_half: contactHalf, at: (v) => contact + slope * v },
    likelihood: effective.reduce((sum, w) => sum + Math.log(w) / 2, 0) - (x.length / 2) * Math.log(Math.max(rss, 1e-300)),
    isExact: rss <= 1e-20 * y.reduce((sum, v, i) => sum + effective[i] * v * v, 0),
  };
}

interface Weighted {
  contact: number;
  slope: number;
  residuals: Float64Array;
  inverse: Float64Array[];
}

function weighted(x: Float64Array, y: Float64Array, weights: Float64Array): Weighted | null {
  const roots = weights.map(Math.sqrt);
  const fit = leastSquares(
    [roots, x.map((v, i) => v * roots[i])],
    y.map((v, i) => v * roots[i]),
  );
  if (!fit) return null;
  const [contact, slope] = fit.coefficients;
  return { contact, slope, residuals: y.map((v, i) => v - contact - slope * x[i]), inverse: fit.inverse() };
}

/** One step of York's line for errors in both, each shim seen where it most likely was (York et al., Am. J. Phys. 72, 2004). */
function errorsInBoth(x: Float64Array, y: Float64Array, weights: Float64Array, u: number, { slope, residuals }: Weighted): Weighted | null {
  const likely = x.map((v, i) => v + residuals[i] * slope * u * u * weights[i]);
  const total = weights.reduce((a, b) => a + b, 0);
  const centre = (of: Float64Array) => of.reduce((sum, v, i) => sum + weights[i] * v, 0) / total;
  const [cx, cy, cl] = [centre(x), centre(y), centre(likely)];
  const along = (of: Float64Array, c: number) => of.reduce((sum, v, i) => sum + weights[i] * (likely[i] - cl) * (v - c), 0);
  const next = along(y, cy) / along(x, cx);
  const design = weighted(likely, y, weights);
  const contact = cy - next * cx;
  return design && { contact, slope: next, residuals: y.map((v, i) => v - contact - next * x[i]), inverse: design.inverse };
}
