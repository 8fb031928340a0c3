import { describe, expect, it } from 'vitest';
import { analyse } from '#core/compare/analyse';
import { HERON, levelOf, riseOf, SPEEDS, speedAt, sweep } from '../../../../tests/plantedSweeps';
import { curveError, fitCooler, riseAt, rpmAtRise, shapeError } from './coolerFit';
import { atLevel, atRise, atSpeed, fitSweep, levelRange } from './sweep';

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
  it('are the readings’ own where mounts were read in part, and the mounts’ where all were', () => {
    const points = sweep(HERON, { mounts: 3, mount_sd: 0.2, run_sd: 0.05, level_sd: 0.2, meter_sd: 0.6, seed: 9 });
    const all = atLevel(fitSweep('Heron', points), 32);
    const part = atLevel(
      fitSweep(
        'Heron',
        points.map((p) => (p.mount === '3' ? { ...p, level: null } : p)),
      ),
      32,
    );
    if (!all || !part) throw new Error('both were measured there');
    // with every mount's own offset the shared error is the slope's; without, it is that of two offsets, with one degree of freedom
    expect(part.shared_se).toBeGreaterThan(3 * all.shared_se);
    expect([all.shared_df, part.shared_df]).toEqual([7, 1]);
    const spread = (values: number[]) => Math.max(...values) - Math.min(...values);
    expect(spread(all.mounts)).toBeGreaterThan(spread(part.mounts));
  });
  it('tell no level where the noise does not rise with the speed', () => {
    const flat = fitSweep(
      'Heron',
      sweep(HERON, { mounts: 3, run_sd: 0.05 }).map((p) => ({ ...p, level: 33 })),
    );
    expect(atRise(flat, 41)).toMatchObject({ level: null, mounts: [null, null, null] });
    expect(atRise(flat, 41)?.shared_se).toBeGreaterThan(0);
  });
});
