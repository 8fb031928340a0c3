import type { OutcomeKey } from '#core/compare/outcomes';
import { readPartLimits } from '#features/study/model/partLimits';
import { PLAN_DEFAULTS } from '#features/study/model/planDefaults';
import { wantsRise } from '#features/study/model/reduction';
import type { StudyPlan } from '#features/study/model/studyPlan';
import type { TypedField } from './typedRun';

/** Readings that an outcome rests on. */
const NEEDED: Partial<Record<OutcomeKey, TypedField[]>> = {
  r_k_per_w: ['power_w'],
  rise_at_power: ['power_w'],
  hottest: ['hottest_c'],
  coldest: ['coldest_c'],
  idle_rise: ['idle_c'],
  spread: ['hottest_c', 'coldest_c'],
  fan_speed: ['fan_rpm'],
  fan_duty: ['fan_rpm'],
  noise: ['noise_db'],
  power: ['power_w'],
  exhaust: ['exhaust_c', 'room_c'],
  clock: ['clock_mhz'],
  voltage: ['voltage_v'],
  throttle_share: ['throttle_pct'],
  score: ['score'],
  run_time: ['run_time_s'],
  frame_rate: ['frame_rate'],
  slow_frame_rate: ['slow_frame_rate'],
  frame_time: ['frame_time_s'],
  score_per_watt: ['score', 'power_w'],
};

/** What a study asks for of a run that is typed; all else can be typed besides. */
export interface TypedAsked {
  fields: TypedField[];
  /** named parts or sensors */
  parts: string[];
  /** true where an event with its time is wanted */
  events: boolean;
}

/** What a study asks for that does not exist yet: the readings of a first evening. */
export const ASKED_AT_FIRST: TypedAsked = { fields: ['mean_c', 'max_c', 'room_c', 'power_w', 'fan_rpm'], parts: [], events: false };

/** The readings that a study's outcomes and choices rest on. */
export function typedAsked(plan: StudyPlan): TypedAsked {
  const keys = (plan.outcomes ?? []).map((o) => o.key);
  const school = plan.value_school ?? PLAN_DEFAULTS.value_school;
  const sensors = plan.sensor_school ?? PLAN_DEFAULTS.sensor_school;
  const named = sensors === 'named' && plan.sensor_name?.trim() ? [plan.sensor_name.trim()] : [];
  const temperature: TypedField[] =
    school === 'peak' ? ['max_c'] : sensors === 'hottest' ? ['hottest_c'] : named.length > 0 ? [] : ['mean_c'];
  const room: TypedField[] = plan.ambient_school === 'absolute' ? [] : ['room_c'];
  const parts = (readPartLimits(plan.part_limits ?? '') ?? []).flatMap((l) => l.sensors);
  // limits are told over the room whatever the study compares by
  const limitsRoom: TypedField[] = parts.length > 0 ? ['room_c'] : [];
  const fields = [...(wantsRise(plan) ? [...temperature, ...room] : []), ...limitsRoom, ...keys.flatMap((k) => NEEDED[k] ?? [])];
  return { fields: [...new Set(fields)], parts: [...new Set([...named, ...parts])], events: keys.includes('time_to_event') };
}
