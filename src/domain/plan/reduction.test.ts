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
  it('does not hold what it varies', () => {
    expect(planReduction({ varies: 'cooler' }, measured)).toMatchObject({ power_w: 139.6, fan_rpm: null });
    expect(planReduction({ varies: 'material', design: 'two_by_two', second_factor: 'fan' }, measured)).toMatchObject({ fan_rpm: null });
    expect(planReduction({ varies: 'setting', loads: [load(140)] }, measured)).toMatchObject({ power_w: null, fan_rpm: null, clock_mhz: null });
    expect(planReduction({ fan_school: 'automatic' }, measured)).toMatchObject({ fan_rpm: null });
    expect(planReduction({ load_school: 'workload' }, measured)).toMatchObject({ power_w: null, clock_mhz: null });
  });
  it('judges the room by its band and its change, and power and fan by its tolerances', () => {
    expect(planReduction({ coldest_c: 19, warmest_c: 28, drift_k: 1 }, null)).toMatchObject({ ambient_band_c: [19, 28], ambient_range_k: 1 });
    expect(planReduction({ warmest_c: 28 }, null).ambient_band_c).toEqual([-60, 28]);
    expect(planReduction({ power_tolerance_pct: 1, fan_tolerance_pct: 3 }, null)).toMatchObject({ power_tolerance: 0.01, fan_tolerance: 0.03 });
    expect(planReduction({}, null).power_tolerance).toBeUndefined();
  });
});
