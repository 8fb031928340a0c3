import { describe, expect, it } from 'vitest';
import { reduceLogs } from '#core/signal/reduce/reduceLogs';
import { seededRandom } from '#core/stats/random';
import { meanHalfWidth } from './meanInterval';

const RUNS = 400;

interface Noise {
  /** correlation of noise from one reading to the next, its standard deviation in K, and the sensor's step in K */
  phi: number;
  sd: number;
  step: number;
  seed: number;
}

/** A run whose noise-free rise is known: an approach to its end value, a slow drift of the part and of the room, AR(1) noise, quantised. */
function simulate({ phi, sd, step, seed }: Noise): { text: string; truth: (from: number, to: number) => number } {
  const random = seededRandom(seed);
  const rises: number[] = [];
  const rows = ['Time (s),Die (°C),Room (°C),Power (W)'];
  let noise = sd * random.normal();
  for (let t = 0; t < 620; t++) {
    const rise = (t < 100 ? 10 : 10 + 35 * (1 - Math.exp(-(t - 100) / 50))) + (0.3 * t) / 3600;
    const room = 22 + (0.3 * t) / 3600;
    noise = phi * noise + sd * Math.sqrt(1 - phi * phi) * random.normal();
    rises.push(rise);
    const read = (v: number, of: number) => (Math.round(v / of) * of).toFixed(3);
    rows.push([t, read(room + rise + noise, step), read(room + 0.02 * random.normal(), 0.01), t < 100 ? 12 : 140].join(','));
  }
  const truth = (from: number, to: number) => {
    const inside = rises.filter((_, t) => t >= from && t < to);
    return inside.reduce((a, b) => a + b, 0) / inside.length;
  };
  return { text: `${rows.join('\n')}\n`, truth };
}

function coverage(noise: Omit<Noise, 'seed'>): number {
  let covered = 0;
  for (let seed = 1; seed <= RUNS; seed++) {
    const { text, truth } = simulate({ ...noise, seed });
    const { ci_k, window } = reduceLogs([{ name: 'run.csv', bytes: new TextEncoder().encode(text) }], {}, { slope_k_per_min: 1 }).reduction;
    if (!ci_k || !window) continue;
    const at = truth(window.start_s, window.end_s);
    if (ci_k[0] <= at && at <= ci_k[1]) covered++;
  }
  return (100 * covered) / RUNS;
}

describe('the 95 % interval of a run value', () => {
  it.each([{ phi: 0.6, sd: 0.3, step: 0.1 }])(
    'covers the truth in 93 to 97 % of 400 runs with drift, steps of $step K and AR(1) noise of $sd K that is correlated by $phi',
    ({ phi, sd, step }) => {
      const share = coverage({ phi, sd, step });
      expect(share).toBeGreaterThanOrEqual(93);
      expect(share).toBeLessThanOrEqual(97);
    },
  );
  it('is never finer than the step of the sensor allows', () => {
    const quiet = { sd: 0.001, n: 120, n_eff: 100, pairs: 1 };
    expect(meanHalfWidth(quiet, 0.5)).toBeCloseTo((1.96 * 0.5) / Math.sqrt(12), 9);
    expect(meanHalfWidth(quiet, null)).toBeLessThan(0.001);
  });
  it('widens with fewer independent readings', () => {
    const of = (n_eff: number, pairs: number) => meanHalfWidth({ sd: 0.2, n: 120, n_eff, pairs }, 0.1);
    expect(of(20, 5)).toBeGreaterThan(1.5 * of(60, 2));
  });
});
