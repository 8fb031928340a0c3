import { describe, expect, it } from 'vitest';
import { planReduction } from './reduction';
import type { StudyPlan } from './studyPlan';

const load = (power_w: number) =>
  ({
    name: 'Burn',
    steps: [
      { stage: 'idle', minutes: 4 },
      { stage: 'load', minutes: 20, power_w, fan_rpm: 1200 },
    ],
  }) as NonNullable<StudyPlan['loads']>[number];
const measured = { power_w: 139.6, fan_rpm: 1210, clock_mhz: 2100 };

describe('how a plan has its runs reduced', () => {
  it('by its schools', () => {
    expect(planReduction({}, null)).toMatchObject({ value: 'mean', aggregate: null, at_s: null });
    expect(planReduction({ value_school: 'peak', sensor_school: 'hottest' }, null)).toMatchObject({ value: 'peak', aggregate: 'hottest' });
    expect(planReduction({ value_school: 'at_time', at_s: 900 }, null)).toMatchObject({ value: 'fixed', at_s: 900 });
    expect(planReduction({ value_school: 'end_value' }, null)).toMatchObject({ value: 'fitted' });
  });
  it('holds what its one load says, else what the reference ran at', () => {
    expect(planReduction({ loads: [load(140)] }, measured)).toMatchObject({ power_w: 140, fan_rpm: 1200, clock_mhz: 2100 });
    expect(planReduction({}, measured)).toMatchObject(measured);
    expect(planReduction({ loads: [load(140), load(90)] }, measured)).toMatchObject({ power_w: 139.6 });
    expect(planReduction({}, null)).toMatchObject({ power_w: null, fan_rpm: null, clock_mhz: null });
  });
  it('holds power where its load is fixed, but not of a device before and after', () => {
    expect(planReduction({}, null).power_held).toBe(true);
    expect(planReduction({ design: 'before_after' }, null).power_held).toBe(false);
    expect(planReduction({ load_school: 'workload' }, null).power_held).toBe(false);
  });
  it('takes set-points of the run’s own load', () => {
    const two = {
      loads: [
        { ...load(140), name: 'Full' },
        { ...load(90), name: 'Half' },
      ],
    };
    expect([planReduction(two, measured, 'Full').power_w, planReduction(two, measured, 'Half').power_w]).toEqual([140, 90]);
  });
  it('by its named sensor, the place of its ambient and its start', () => {
    expect(planReduction({ sensor_school: 'named', sensor_name: ' Die 2 ' }, null)).toMatchObject({ sensor: 'Die 2', aggregate: 'named' });
    expect(planReduction({ sensor_school: 'mean', sensor_name: 'Die 2' }, null)).toMatchObject({ aggregate: null });
    expect(planReduction({ ambient_place: 'inlet', ambient_disagree_k: 3 }, null)).toMatchObject({
      ambient_place: 'inlet',
      ambient_disagree_k: 3,
    });
    expect(planReduction({ steady_school: 'warmed' }, null)).toMatchObject({ prewarmed: true, cold_start: false });
    expect(planReduction({ steady_school: 'cold' }, null)).toMatchObject({ prewarmed: false, cold_start: true });
    expect(planReduction({ ambient_school: 'absolute' }, null).absolute).toBe(true);
    expect(planReduction({ ambient_school: 'referred' }, null).absolute).toBe(false);
  });
  it('does not hold what it varies', () => {
    expect(planReduction({ varies: 'cooler' }, measured)).toMatchObject({ power_w: 139.6, fan_rpm: null });
    expect(planReduction({ varies: 'material', design: 'two_by_two', second_factor: 'fan' }, measured)).toMatchObject({ fan_rpm: null });
    expect(planReduction({ varies: 'setting', loads: [load(140)] }, measured)).toMatchObject({
      power_w: null,
      fan_rpm: null,
      clock_mhz: null,
    });
    expect(planReduction({ fan_school: 'automatic' }, measured)).toMatchObject({ fan_rpm: null });
    expect(planReduction({ load_school: 'workload' }, measured)).toMatchObject({ power_w: null, clock_mhz: null });
  });
  it('judges the room by its band and its change, and power and fan by its tolerances', () => {
    expect(planReduction({ coldest_c: 19, warmest_c: 28, drift_k: 1 }, null)).toMatchObject({
      ambient_band_c: [19, 28],
      ambient_range_k: 1,
    });
    expect(planReduction({ warmest_c: 28 }, null).ambient_band_c).toEqual([-60, 28]);
    expect(planReduction({ power_tolerance_pct: 1, fan_tolerance_pct: 3 }, null)).toMatchObject({
      power_tolerance: 0.01,
      fan_tolerance: 0.03,
    });
    expect(planReduction({}, null).power_tolerance).toBeUndefined();
  });
});
