import { tQuantile } from '#core/stats/distributions/t';
import { type Random, seededRandom } from '#core/stats/random';
import type { SpecimenMean } from './oneWay';

const DRAWS = 20_000;
const NEVER = 1 - 1e-6;

/**
 * Chance of each specimen to have the lowest true mean: share of seeded draws of the means from their t distributions. On pooled scatter
 * all means of one draw share the same estimate of the scatter. Where one of them has no distribution, nobody has a chance that can be
 * told: all are null.
 */
export function chanceCoolest(means: SpecimenMean[], sharedScatter: boolean, seed = 1): (number | null)[] {
  const known = means.flatMap((m, i) =>
    m.se && m.df ? [{ i, mean: m.mean, se: m.se, reach: tQuantile(NEVER, m.df) * m.se, df: m.df }] : [],
  );
  if (known.length < means.length || known.length === 0) return means.map(() => null);
  // who lies beyond the reach of the best in one draw of a million needs no draws
  const bar = Math.min(...known.map((m) => m.mean + m.reach));
  const taking = known.filter((m) => m.mean - m.reach <= bar);
  const wins = new Array<number>(means.length).fill(0);
  const random = seededRandom(seed);
  for (let draw = 0; draw < DRAWS; draw++) {
    let best = 0;
    let lowest = Number.POSITIVE_INFINITY;
    const factor = sharedScatter ? tFactor(random, taking[0].df) : 0;
    for (const m of taking) {
      const value = m.mean + m.se * (sharedScatter ? factor * random.normal() : tDeviate(random, m.df));
      if (value < lowest) {
        lowest = value;
        best = m.i;
      }
    }
    wins[best]++;
  }
  return means.map((_, i) => wins[i] / DRAWS);
}

/** Student's t deviate by the polar method (Bailey 1994). */
function tDeviate(random: Random, df: number): number {
  for (;;) {
    const u = 2 * random.uniform() - 1;
    const v = 2 * random.uniform() - 1;
    const w = u * u + v * v;
    if (w > 0 && w < 1) return u * Math.sqrt((df * (w ** (-2 / df) - 1)) / w);
  }
}

/** √(ν/χ²_ν), which turns a normal deviate into a t deviate. */
const tFactor = (random: Random, df: number): number => Math.sqrt(df / (2 * gamma(random, df / 2)));

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
