import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { analyse } from '../compare/analyse';
import { curveError, fitCooler, riseAt, rpmAtRise, shapeError } from './coolerFit';
import { atLevel, atRise, atSpeed, crossings, fitSweep, levelRange, type SweepPoint } from './sweep';

interface Cooler {
  name: string;
  a: number;
  at_1200: number;
  level_1200: number;
}
const HERON: Cooler = { name: 'Heron', a: 28, at_1200: 13, level_1200: 33 };
const WEIR: Cooler = { name: 'Weir 240', a: 26, at_1200: 13, level_1200: 38 };
const SPEEDS = [700, 950, 1250, 1600];

const riseOf = (c: Cooler, rpm: number) => c.a + c.at_1200 * (rpm / 1200) ** -0.7;
const levelOf = (c: Cooler, rpm: number) => c.level_1200 + 50 * Math.log10(rpm / 1200);
const speedAt = (c: Cooler, level: number) => 1200 * 10 ** ((level - c.level_1200) / 50);

/** A sweep with as much scatter of mounts, readings and levels as is given. */
function sweep(c: Cooler, { mounts = 3, mount_sd = 0, run_sd = 0, level_sd = 0, seed = 1 } = {}): SweepPoint[] {
  const random = seededRandom(seed);
  return Array.from({ length: mounts }, (_, m) => {
    const mounted = mount_sd * random.normal();
    return SPEEDS.map((rpm) => ({
      mount: String(m + 1),
      rpm,
      rise: riseOf(c, rpm) + mounted + run_sd * random.normal(),
      level: levelOf(c, rpm) + level_sd * random.normal(),
    }));
  }).flat();
}

describe('the error of a crossing', () => {
  it('has the scatter of the mounts with one degree of freedom less, over the slope that the curves part with', () => {
    const [a, b] = [fitSweep('Heron', sweep(HERON, { mount_sd: 0.15, seed: 3 })), fitSweep('Weir 240', sweep(WEIR, { mount_sd: 0.15, seed: 3 }))];
    const [crossing] = crossings(a, b);
    const variance = [a, b].reduce((sum, s) => {
      const at = atLevel(s, crossing.level);
      if (!at) throw new Error('not measured there');
      const [x, y, z] = at.mounts;
      // of three mounts: the sum of squares by their pairwise differences, over 3 · 2 and 3
      return sum + ((x - y) ** 2 + (y - z) ** 2 + (z - x) ** 2) / 3 / 2 / 3 + at.shared_se ** 2;
    }, 0);
    const step = 0.05;
    const apart = (level: number) => (atLevel(a, level)?.rise ?? 0) - (atLevel(b, level)?.rise ?? 0);
    const slope = (apart(crossing.level + step) - apart(crossing.level - step)) / (2 * step);
    expect(crossing.se).toBeCloseTo(Math.sqrt(variance) / Math.abs(slope), 2);
  });
});

describe('a cooler over its speeds', () => {
  it('is recovered exactly from readings without scatter, each mount with its own constant', () => {
    const points = sweep(HERON).map((p) => ({ ...p, rise: (p.rise as number) + Number(p.mount) }));
    const fit = fitCooler(
      points.map((p) => p.rpm),
      points.map((p) => p.rise),
      points.map((p) => Number(p.mount) - 1),
    );
    expect(fit?.c).toBeCloseTo(0.7, 6);
    fit?.mounts.forEach((a, i) => {
      expect(a).toBeCloseTo(28 + i + 1, 5);
    });
    expect(fit && rpmAtRise(fit, riseAt(fit, 1111))).toBeCloseTo(1111, 6);
  });
  it('is read at a level through its speed, at a rise through both curves, and never far beyond what was measured', () => {
    const s = fitSweep('Heron', sweep(HERON));
    expect(s.missing).toBe('');
    expect(atLevel(s, 33)).toMatchObject({ rpm: expect.closeTo(1200, 3), rise: expect.closeTo(41, 5) });
    expect(atRise(s, 41)).toMatchObject({ rpm: expect.closeTo(1200, 2), level: expect.closeTo(33, 4) });
    expect(atSpeed(s, 1600 * 1.04)).not.toBeNull();
    expect(atSpeed(s, 1600 * 1.06)).toBeNull();
    expect(atLevel(s, levelOf(HERON, 600))).toBeNull();
    expect(atRise(s, 20)).toBeNull();
    const range = levelRange(s);
    expect(range?.[0]).toBeCloseTo(levelOf(HERON, 665), 3);
    expect(range?.[1]).toBeCloseTo(levelOf(HERON, 1680), 3);
  });
  it('says what is missing: speeds, levels over the floor, a rise that falls', () => {
    const points = sweep(HERON);
    const one = points.filter((p) => p.rpm === 950);
    expect(fitSweep('Heron', one).missing).toContain('one fan speed only');
    expect(
      fitSweep(
        'Heron',
        points.map((p) => ({ ...p, rise: null })),
      ).missing,
    ).toContain('no valid run');
    expect(
      fitSweep(
        'Heron',
        points.map((p) => ({ ...p, level_at_most: true })),
      ).missing,
    ).toContain('within 3 dB of the floor');
    expect(
      fitSweep(
        'Heron',
        points.map((p) => ({ ...p, level: null })),
      ).missing,
    ).toContain('too few sound readings');
    expect(
      fitSweep(
        'Heron',
        points.map((p) => ({ ...p, rise: 80 - (p.rise as number) })),
      ).missing,
    ).toContain('does not fall');
    expect(atLevel(fitSweep('Heron', one), 33)).toBeNull();
  });
  it('crosses another where the two are equally cool at equal noise', () => {
    const [a, b] = [HERON, WEIR].map((c) => fitSweep(c.name, sweep(c, { mount_sd: 0.3 })));
    const level = (l: number) => riseOf(HERON, speedAt(HERON, l)) - riseOf(WEIR, speedAt(WEIR, l));
    const [crossing] = crossings(fitSweep('Heron', sweep(HERON)), fitSweep('Weir 240', sweep(WEIR)));
    expect(level(crossing.level)).toBeCloseTo(0, 4);
    expect([crossing.quieter, crossing.louder]).toEqual(['Heron', 'Weir 240']);
    expect(crossings(a, b)[0]?.se).toBeGreaterThan(0);
    expect(crossings(a, a)).toEqual([]);
  });
});

describe('errors of a curve', () => {
  it('cover what mounts share: intervals at a level hold in 95 of 100 simulated sweeps', () => {
    let held = 0;
    let told = 0;
    for (let study = 0; study < 1000; study++) {
      const s = fitSweep('Heron', sweep(HERON, { mounts: 4, mount_sd: 0.4, run_sd: 0.3, level_sd: 0.5, seed: study + 1 }));
      const state = atLevel(s, 32);
      if (!state) continue;
      told++;
      const rows = state.mounts.map((value, i) => ({ specimen: 'Heron', mount: s.mounts[i], value }));
      const shared_errors = { Heron: { se: state.shared_se, df: state.shared_df } };
      const [mean] = analyse(rows, { chances: false, shared_errors, scatter: 'separate' }).specimens;
      const truth = riseOf(HERON, speedAt(HERON, 32));
      if (mean.ci && mean.ci[0] <= truth && truth <= mean.ci[1]) held++;
    }
    expect(told).toBeGreaterThan(990);
    expect(held / told).toBeGreaterThan(0.93);
    expect(held / told).toBeLessThan(0.975);
  });
  it('of the shape leave out what the scatter of mounts shows already', () => {
    const s = fitSweep('Heron', sweep(HERON, { mounts: 3, run_sd: 0.3 }));
    if (!s.rise) throw new Error('a curve was expected');
    for (const rpm of SPEEDS) expect(shapeError(s.rise, rpm)).toBeLessThan(curveError(s.rise, rpm));
  });
});
