import { type Random, seededRandom } from '../stats/random';
import type { SpecimenMean } from './oneWay';

const DRAWS = 20_000;

/**
 * Chance of each specimen to have the lowest true mean: share of seeded draws of the means from their t distributions.
 * On pooled scatter all means of one draw share the same estimate of the scatter.
 * Specimens without an interval take no part and get null.
 */
export function chanceCoolest(means: SpecimenMean[], sharedScatter: boolean, seed = 1): (number | null)[] {
  const taking = means.flatMap((m, i) => (m.se === null || m.df === null ? [] : [{ i, mean: m.mean, se: m.se, df: m.df }]));
  const wins = new Array<number>(means.length).fill(0);
  if (taking.length === 0) return means.map(() => null);
  const random = seededRandom(seed);
  for (let draw = 0; draw < DRAWS; draw++) {
    let best = 0;
    let lowest = Number.POSITIVE_INFINITY;
    let factor = sharedScatter ? tFactor(random, taking[0].df) : 1;
    for (const m of taking) {
      if (!sharedScatter) factor = tFactor(random, m.df);
      const value = m.mean + m.se * factor * random.normal();
      if (value < lowest) {
        lowest = value;
        best = m.i;
      }
    }
    wins[best]++;
  }
  return means.map((m, i) => (m.se === null ? null : wins[i] / DRAWS));
}

/** √(ν/χ²_ν), which turns a normal deviate into a t deviate. */
function tFactor(random: Random, df: number): number {
  return Math.sqrt(df / (2 * gamma(random, df / 2)));
}

/** Gamma deviate of the given shape (Marsaglia & Tsang 2000). */
function gamma(random: Random, shape: number): number {
  if (shape < 1) return gamma(random, shape + 1) * random.uniform() ** (1 / shape);
  const d = shape - 1 / 3;
  const c = 1 / Math.sqrt(9 * d);
  for (;;) {
    const x = random.normal();
    const v = (1 + c * x) ** 3;
    if (v <= 0) continue;
    if (Math.log(1 - random.uniform()) < 0.5 * x * x + d - d * v + d * Math.log(v)) return d * v;
  }
}
