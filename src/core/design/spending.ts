import { normalCdf, normalQuantile } from '#core/stats/distributions/normal';

/** One look at the data of a study whose looks were planned. */
export interface Look {
  /** share of the planned mounts that are in, 0 … 1 */
  fraction: number;
  /** the normal statistic that stops at this look */
  critical_z: number;
  /** two-sided level of a test made at this look */
  nominal_alpha: number;
  /** error spent up to and with this look */
  spent: number;
}

/**
 * Two-sided error spent at an information fraction, O'Brien–Fleming type: hardly any early, all at the end (Lan & DeMets 1983), each side
 * spending 2(1 − Φ(z/√t)) of its half.
 */
export function obrienFlemingSpending(fraction: number, alpha: number): number {
  if (fraction >= 1) return alpha;
  return 4 * normalCdf(-normalQuantile(1 - alpha / 4) / Math.sqrt(fraction));
}

const GRID = 400;
/** Beyond this no normal statistic goes in practice; a look with less error than its tail has no chance to stop. */
const HIGHEST_Z = 8;

/**
 * Boundaries of planned looks that keep the two-sided error. The partial sums of the study are followed from look to look by
 * numerical integration of the density of those not stopped yet (Armitage, McPherson & Rowe 1969), Simpson's rule.
 * @param fractions rising, above 0; the last may be below 1 where the study is not finished
 * @param alpha error of the whole study
 * @throws RangeError where the fractions do not rise from above 0 to at most 1
 */
export function planLooks(fractions: number[], alpha: number): Look[] {
  const looks: Look[] = [];
  let before = 0;
  let spent = 0;
  let open: { x: Float64Array; mass: Float64Array } | null = null;
  for (const fraction of fractions) {
    if (!(fraction > before && fraction <= 1)) throw new RangeError('Interim analyses need rising fractions above 0 and up to 1.');
    const sd = Math.sqrt(fraction - before);
    const target = obrienFlemingSpending(fraction, alpha);
    const from: { x: Float64Array; mass: Float64Array } = open ?? { x: Float64Array.of(0), mass: Float64Array.of(1) };
    const crossing = (bound: number) => {
      let sum = 0;
      for (let i = 0; i < from.x.length; i++)
        sum += from.mass[i] * (normalCdf((from.x[i] - bound) / sd) + normalCdf((-from.x[i] - bound) / sd));
      return sum;
    };
    const z = solveFalling((c) => crossing(c * Math.sqrt(fraction)) - (target - spent));
    spent = Math.min(alpha, spent + crossing(z * Math.sqrt(fraction)));
    looks.push({ fraction, critical_z: z, nominal_alpha: 2 * normalCdf(-z), spent });
    open = carryOn(from, z * Math.sqrt(fraction), sd);
    before = fraction;
  }
  return looks;
}

/** Probability mass on a grid of those sums that stay inside the bound after one more step. */
function carryOn(from: { x: Float64Array; mass: Float64Array }, bound: number, sd: number) {
  const step = (2 * bound) / GRID;
  const x = Float64Array.from({ length: GRID + 1 }, (_, i) => -bound + i * step);
  const mass = x.map((v, i) => {
    let density = 0;
    for (let j = 0; j < from.x.length; j++) {
      const u = (v - from.x[j]) / sd;
      density += from.mass[j] * Math.exp((-u * u) / 2);
    }
    const simpson = i === 0 || i === GRID ? 1 / 3 : i % 2 === 1 ? 4 / 3 : 2 / 3;
    return (density / (sd * Math.sqrt(2 * Math.PI))) * step * simpson;
  });
  return { x, mass };
}

function solveFalling(f: (z: number) => number): number {
  let low = 0;
  let high = HIGHEST_Z;
  if (f(high) > 0) return high;
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (f(middle) > 0) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}
