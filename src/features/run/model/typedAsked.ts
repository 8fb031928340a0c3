import type { OutcomeKey } from '#core/compare/outcomes';
import type { TypedQuantity } from '#core/signal/reduce/typedReading';
import { isLadder } from '#features/study/model/loadFigures';
import type { LadderStep } from '#features/study/model/loads';
import { readPartLimits } from '#features/study/model/partLimits';
import { PLAN_DEFAULTS } from '#features/study/model/planDefaults';
import { wantsRise } from '#features/study/model/reduction';
import type { StudyPlan } from '#features/study/model/studyPlan';
import { type TypedField, type TypedValues, typedReadings } from './typedRun';

/** Readings that an outcome rests on. */
const NEEDED: Partial<Record<OutcomeKey, TypedField[]>> = {
  score: ['score'],
  run_time: ['run_time_s'],
  frame_rate: ['frame_rate'],
  slow_frame_rate: ['slow_frame_rate'],
  frame_time: ['frame_time_s'],
  noise: ['noise_db'],
  exhaust: ['exhaust_c', 'room_c'],
  throttle_share: ['throttle_pct'],
  fan_speed: ['fan_rpm'],
  fan_duty: ['fan_rpm'],
  power: ['power_w'],
  clock: ['clock_mhz'],
  voltage: ['voltage_v'],
  score_per_watt: ['score', 'power_w'],
  r_k_per_w: ['power_w'],
  rise_at_power: ['power_w'],
  hottest: ['hottest_c'],
  coldest: ['coldest_c'],
  idle_rise: ['idle_c'],
  spread: ['hottest_c', 'coldest_c'],
};

/** What was read of runs that have no temperature of the part; none where one has, for the rise is compared then. */
export function outcomesTyped(runs: TypedValues[]): OutcomeKey[] {
  const read = new Set(runs.flatMap(({ texts }) => Object.keys(typedReadings(texts)) as TypedQuantity[]));
  const hasTemperature =
    runs.some((r) => (r.parts ?? []).length > 0) ||
    (['mean_c', 'max_c', 'hottest_c', 'coldest_c', 'rise_k'] as const).some((q) => read.has(q));
  if (hasTemperature) return [];
  const isRead = (key: OutcomeKey, fields: TypedQuantity[]) =>
    key === 'fan_duty' ? read.has('fan_pct') : !wantsRise({ outcomes: [{ key, margin: 1 }] }) && fields.every((f) => read.has(f));
  const keys = (Object.entries(NEEDED) as [OutcomeKey, TypedField[]][]).filter(([key, fields]) => isRead(key, fields)).map(([key]) => key);
  return [...(runs.some((r) => (r.events ?? []).length > 0) ? (['time_to_event'] as const) : []), ...keys];
}

/** What a study asks for of a run that is typed; all else can be typed besides. */
export interface TypedAsked {
  fields: TypedField[];
  /** named parts or sensors */
  parts: string[];
  /** true where an event with its time is wanted */
  events: boolean;
  /** planned steps of the loads that are ladders */
  ladders: { load: string; steps: LadderStep[]; held_min: number | null }[];
}

/** What a study asks for that does not exist yet: the readings of a first evening. */
export const ASKED_AT_FIRST: TypedAsked = {
  fields: ['mean_c', 'max_c', 'room_c', 'power_w', 'fan_rpm'],
  parts: [],
  events: false,
  ladders: [],
};

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
  return {
    ...{ fields: [...new Set(fields)], parts: [...new Set([...named, ...parts])], events: keys.includes('time_to_event') },
    ladders: (plan.loads ?? []).filter(isLadder).map((l) => ({ load: l.name, steps: l.ladder ?? [], held_min: l.ladder_min ?? null })),
  };
}
