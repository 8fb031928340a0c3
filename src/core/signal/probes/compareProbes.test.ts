import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { compareProbes, type ProbeStretch } from './compareProbes';

interface Planted {
  /** error at 25 °C, K, and its change per K */
  offset: number;
  gain: number;
  /** how far the place of a probe differs from stretch to stretch, K */
  place: number;
  noise: number;
  step: number;
}

/** A stretch at a temperature: autocorrelated noise, a bath that wanders, and each probe in a place of its own. */
function stretch(random: ReturnType<typeof seededRandom>, at_c: number, probes: Record<string, Planted>, n = 180): ProbeStretch {
  const t = Float64Array.from({ length: n }, (_, i) => i);
  const bath = Float64Array.from(t, (s) => at_c + 0.02 * Math.sin(s / 40));
  const values = Object.fromEntries(
    Object.entries(probes).map(([name, p]) => {
      const place = p.place * random.normal();
      let e = random.normal();
      return [
        name,
        Float64Array.from(bath, (b) => {
          e = 0.6 * e + 0.8 * random.normal();
          const shown = b + place + p.offset + p.gain * (b - 25) + p.noise * e;
          return p.step * Math.round(shown / p.step);
        }),
      ];
    }),
  );
  return { t, values };
}

const GOOD: Planted = { offset: 0, gain: 0, place: 0, noise: 0.01, step: 0.01 };

/** Share of simulated comparisons whose planted error, and change of it, lie in their intervals. */
function covered(
  temperatures: number[],
  of: (random: ReturnType<typeof seededRandom>) => { reference: Planted; probe: Planted },
  runs = 500,
) {
  let [errors, gains] = [0, 0];
  for (let seed = 1; seed <= runs; seed++) {
    const random = seededRandom(seed);
    const { reference, probe } = of(random);
    const stretches = temperatures.map((c) => stretch(random, c, { Room: reference, Part: probe }));
    const { probes } = compareProbes(stretches, 'Room') ?? { probes: [] };
    const [p] = probes;
    if (Math.abs(p.error_k - (probe.offset + probe.gain * (p.at_c - 25))) <= p.reach_k) errors++;
    if (p.gain !== null && Math.abs(p.gain - probe.gain) <= (p.gain_reach ?? 0)) gains++;
  }
  return { errors: errors / runs, gains: gains / runs };
}

describe('probes in one place', () => {
  it.each([
    ['one stretch, fine steps', [25], 0, 0.01],
    ['three stretches, each probe elsewhere every time', [25, 25, 25], 0.03, 0.01],
    ['three stretches, coarse steps', [25, 25, 25], 0.02, 0.1],
    ['five stretches', [24, 25, 26, 25, 25], 0.02, 0.0625],
  ])('%s: the planted error lies in its interval in 95 of 100', (_name, temperatures, place, step) => {
    const { errors } = covered(temperatures, (random) => ({
      reference: GOOD,
      probe: { offset: 0.8 * random.normal(), gain: 0, place, noise: 0.03, step },
    }));
    expect(errors).toBeGreaterThan(0.93);
  });

  it('two temperatures: error and its change with temperature lie in their intervals in 95 of 100', () => {
    const { errors, gains } = covered([22, 22, 22, 60, 60, 60], (random) => ({
      reference: GOOD,
      probe: { offset: 0.8 * random.normal(), gain: 0.004 * random.normal(), place: 0.03, noise: 0.03, step: 0.01 },
    }));
    expect(errors).toBeGreaterThan(0.93);
    expect(errors).toBeLessThan(0.99);
    expect(gains).toBeGreaterThan(0.93);
    expect(gains).toBeLessThan(0.99);
  });

  it('temperatures that lie just too near to each other tell no change of the error, and just far enough apart do', () => {
    const at = (second: number) => {
      const random = seededRandom(9);
      const probe = { ...GOOD, offset: 0.5, gain: 0.01 };
      const stretches = [25, 25, second, second].map((c) => stretch(random, c, { Room: GOOD, Part: probe }));
      return compareProbes(stretches, 'Room')?.probes[0];
    };
    expect(at(29.9)?.gain).toBeNull();
    expect(at(30.1)?.gain).toBeCloseTo(0.01, 2);
  });

  it('compare each probe with the one that is named, and say how the bath drifted', () => {
    const random = seededRandom(3);
    const { t, values } = stretch(random, 25, { Room: GOOD, A: { ...GOOD, offset: 0.4 }, B: { ...GOOD, offset: -0.2 } });
    const drifting = Object.fromEntries(Object.entries(values).map(([name, v]) => [name, v.map((x, i) => x + t[i] / 120)]));
    const against = (reference: string) => compareProbes([{ t, values: drifting }], reference);
    expect(against('Room')?.drift_k_per_min).toBeCloseTo(0.5, 1);
    expect(against('Room')?.probes.map((p) => [p.name, Number(p.error_k.toFixed(2))])).toEqual([
      ['A', 0.4],
      ['B', -0.2],
    ]);
    expect(against('A')?.probes.map((p) => [p.name, Number(p.error_k.toFixed(2))])).toEqual([
      ['Room', -0.4],
      ['B', -0.6],
    ]);
  });

  it('say nothing of too few common readings', () => {
    const t = Float64Array.from({ length: 9 }, (_, i) => i);
    expect(compareProbes([{ t, values: { A: t, B: t } }], 'A')).toBeNull();
    expect(compareProbes([{ t, values: { A: t } }], 'A')).toBeNull();
  });
});
