import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { expectWithin, vectors } from '../../../tests/vectors.ts';
import { compareDevices, type DeviceChanges, type DeviceRow, type RunError } from './devices';

interface Expected {
  each: object[];
  these_devices: object | null;
  devices_like_these: object | null;
}
const file = vectors<{ rows: DeviceRow[] }, Expected>('devices');

/** In the words of the vectors. */
const named = ({ each, these_devices, devices_like_these, ...rest }: DeviceChanges) => ({
  ...rest,
  each: each.map(({ ci_all_devices: ci95_all_devices, ...e }) => ({ ...e, ci95_all_devices })),
  these_devices: these_devices && { ...these_devices, ci95: these_devices.ci },
  devices_like_these: devices_like_these && {
    ...devices_like_these,
    ci95: devices_like_these.ci,
    prediction95: devices_like_these.prediction,
  },
});

describe('one change on several devices', () => {
  it.each(file.cases.map((c) => [c.name, c] as const))('%s', (_, { input, expected }) => {
    const got = compareDevices(input.rows, 0.95);
    expect(got).not.toBeNull();
    expectWithin(got && named(got), expected, file.tolerance);
  });

  it('leaves a device without one of the states out, and says nothing where none has both', () => {
    const rows: DeviceRow[] = [
      { device: 'A', state: 'before', value: 50 },
      { device: 'A', state: 'after', value: 46 },
      { device: 'B', state: 'before', value: 51 },
    ];
    expect(compareDevices(rows, 0.95)?.each.map((e) => e.device)).toEqual(['A']);
    expect(compareDevices(rows.slice(2), 0.95)).toBeNull();
  });

  it('gives a state that cannot come back the error of its runs, and none where it ran once', () => {
    const rows: DeviceRow[] = ['A', 'B'].flatMap((device, i) => [
      { device, state: 'before' as const, value: 50 + i },
      ...[46, 46.6, 45.8].map((value) => ({ device, state: 'after' as const, value: value + i })),
    ]);
    const fixed: RunError = { sd: 0.1, df: 4, runs: { A: 3, B: 3 } };
    const got = compareDevices(rows, 0.95, fixed);
    const mountVariance = 0.52 / 2 / 1.5; // of 46, 46.6, 45.8: 0.1733
    const within = (got?.within_sd ?? Number.NaN) ** 2;
    expect(got?.each[0].se).toBeCloseTo(Math.sqrt(0.01 / 3 + within / 3), 12);
    expect(within).toBeCloseTo(mountVariance, 3);
    expect(got?.differs_by_device).toBeNull();
    expect(compareDevices(rows, 0.95, { ...fixed, df: 0 })?.each[0].se).toBeNull();
    // mounts that scatter much more than runs: nearly the mounts' own degrees of freedom
    expect(got?.these_devices?.df).toBeGreaterThan(4);
    expect(got?.these_devices?.df).toBeLessThan(4.5);
  });

  it('holds the planted changes as often as it says: each and all devices, their mean, and the next device', () => {
    const random = seededRandom(77);
    const draws = 1500;
    const held = { all: 0, mean: 0, like: 0, next: 0, fixedAll: 0, fixedMean: 0 };
    for (let d = 0; d < draws; d++) {
      const truth = Array.from({ length: 4 }, () => -4 + 0.6 * random.normal());
      const next = -4 + 0.6 * random.normal();
      const mounts = (level: number, n: number) => Array.from({ length: n }, () => level + 0.5 * random.normal());
      const rows = truth.flatMap((change, i) => {
        const level = 50 + 3 * i;
        const device = `D${i}`;
        return [
          ...mounts(level, 2).map((value) => ({ device, state: 'before' as const, value })),
          ...mounts(level + change, 3).map((value) => ({ device, state: 'after' as const, value })),
        ];
      });
      const got = compareDevices(rows, 0.95);
      const within = (ci: [number, number] | null | undefined, v: number) => (ci && ci[0] <= v && v <= ci[1] ? 1 : 0);
      const centre = truth.reduce((a, b) => a + b, 0) / 4;
      held.all += got?.each.every((e, i) => within(e.ci_all_devices, truth[i]) === 1) ? 1 : 0;
      held.mean += within(got?.these_devices?.ci, centre);
      held.like += within(got?.devices_like_these?.ci, -4);
      // what a further device would really show, measured as these were
      const shown = next + Math.sqrt(0.25 / 2 + 0.25 / 3) * random.normal();
      held.next += within(got?.devices_like_these?.prediction, shown);
      // the state before is the device's own: three runs on its one mount
      const runs = truth.map((_, i) => Array.from({ length: 3 }, () => 50 + 3 * i + 0.15 * random.normal()));
      const run_var = runs.reduce((sum, r) => sum + varianceOf(r), 0) / 4;
      const fixedRows = [
        ...runs.map((r, i) => ({ device: `D${i}`, state: 'before' as const, value: r.reduce((a, b) => a + b, 0) / 3 })),
        ...rows.filter((r) => r.state === 'after'),
      ];
      const fixed = compareDevices(fixedRows, 0.95, { sd: Math.sqrt(run_var), df: 8, runs: { D0: 3, D1: 3, D2: 3, D3: 3 } });
      held.fixedAll += fixed?.each.every((e, i) => within(e.ci_all_devices, truth[i]) === 1) ? 1 : 0;
      held.fixedMean += within(fixed?.these_devices?.ci, centre);
    }
    for (const [name, n] of Object.entries(held)) {
      // Bonferroni errs to the careful side; four standard errors of the simulation below 95 %
      expect(n / draws, name).toBeGreaterThan(0.95 - 4 * Math.sqrt((0.95 * 0.05) / draws));
      expect(n / draws, name).toBeLessThan(0.985);
    }
  });
});

function varianceOf(values: number[]): number {
  const m = values.reduce((a, b) => a + b, 0) / values.length;
  return values.reduce((sum, v) => sum + (v - m) ** 2, 0) / (values.length - 1);
}
