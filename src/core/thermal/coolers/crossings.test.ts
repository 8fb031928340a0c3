import { describe, expect, it } from 'vitest';
import { factorialEffects } from '#core/compare/factorial';
import { HERON, type PlantedCooler, plantedCross, riseOf, SLUICE, speedAt, sweep, WEIR } from '../../../../tests/plantedSweeps';
import { crossings } from './crossings';
import { fitSweep } from './sweep';

const apart = (other: PlantedCooler, level: number) => riseOf(HERON, speedAt(HERON, level)) - riseOf(other, speedAt(other, level));
const SCATTER = { mounts: 3, mount_sd: 0.15, run_sd: 0.05, level_sd: 0.2, meter_sd: 0.4 };

/** Where the two overtake each other, by halving. */
function trueCrossing(other: PlantedCooler): number {
  let [low, high] = [20, 45];
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (apart(other, low) * apart(other, middle) > 0) low = middle;
    else high = middle;
  }
  return low;
}

describe('a crossing', () => {
  it('is where the two are equally cool at equal noise', () => {
    const [crossing] = crossings(fitSweep('Heron', sweep(HERON)), fitSweep('Weir 240', sweep(WEIR)));
    expect(crossing.level).toBeCloseTo(trueCrossing(WEIR), 4);
    expect([crossing.quieter, crossing.louder]).toEqual(['Heron', 'Weir 240']);
    expect(crossing).toMatchObject({ ci: null, untold: 'no_scatter' });
  });
  it('is none of a cooler with itself', () => {
    const a = fitSweep('Heron', sweep(HERON, { mount_sd: 0.3 }));
    expect(crossings(a, a)).toEqual([]);
  });
  it('has no interval where a cooler has one mount, or where the levels run on beyond what was measured', () => {
    const one = crossings(
      fitSweep('Heron', sweep(HERON, { mounts: 1, run_sd: 0.05 })),
      fitSweep('Weir 240', sweep(WEIR, { mounts: 1, run_sd: 0.05 })),
    );
    expect(one[0]).toMatchObject({ ci: null, untold: 'one_mount' });
    const loose = { mount_sd: 3, run_sd: 0.1, seed: 5 };
    const wide = crossings(fitSweep('Heron', sweep(HERON, loose)), fitSweep('Weir 240', sweep(WEIR, { ...loose, seed: 6 })));
    for (const c of wide) expect(c).toMatchObject({ ci: null, untold: 'endless' });
  });
  it('lies in its interval in 95 of 100 studies whose meter was put up anew for each mount', () => {
    let held = 0;
    let told = 0;
    const truth = trueCrossing(SLUICE);
    for (let seed = 1; seed <= 300; seed++) {
      const [a, b] = [HERON, SLUICE].map((c, i) => fitSweep(c.name, sweep(c, { ...SCATTER, seed: 2 * seed + i })));
      for (const { ci } of crossings(a, b)) {
        if (!ci) continue;
        told++;
        if (ci[0] <= truth && truth <= ci[1]) held++;
      }
    }
    expect(told).toBeGreaterThan(200);
    expect(held / told).toBeGreaterThan(0.92);
    expect(held / told).toBeLessThan(0.99);
  });
});

describe('two heatsinks with two fans at equal noise', () => {
  it('are told what each accounts for, with what their curves share', () => {
    const held = { a: 0, b: 0, interaction: 0 };
    let studies = 0;
    for (let seed = 1; seed <= 300; seed++) {
      const cross = plantedCross(33, { mounts: 3, mount_sd: 0.3, run_sd: 0.2, level_sd: 0.5, meter_sd: 0.5 }, seed);
      const effects = cross && factorialEffects(cross.cells, { confidence: 0.95, scatter: 'pooled' });
      if (!cross || !effects) continue;
      studies++;
      for (const e of effects) if (e.ci[0] <= cross.truth[e.kind] && cross.truth[e.kind] <= e.ci[1]) held[e.kind]++;
    }
    expect(studies).toBeGreaterThan(290);
    for (const kind of ['a', 'b', 'interaction'] as const) {
      expect(held[kind] / studies, kind).toBeGreaterThan(0.92);
      expect(held[kind] / studies, kind).toBeLessThan(0.99);
    }
  });
});
