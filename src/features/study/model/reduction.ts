import type { OutcomeKey } from '#core/compare/outcomes';
import type { ReduceOptions, ValueSchool } from '#core/signal/reduce/types';
import { isLadder } from './loadFigures';
import { readPartLimits } from './partLimits';
import { PLAN_DEFAULTS } from './planDefaults';
import type { StudyPlan } from './studyPlan';

/** Levels of a study's reference specimen as measured; null where it has no valid run that logged them. */
interface MeasuredLevels {
  power_w: number | null;
  fan_rpm: number | null;
  clock_mhz: number | null;
}

const VALUES: Record<string, ValueSchool> = { window: 'mean', peak: 'peak', at_time: 'fixed', end_value: 'fitted' };
/** Coldest and warmest of a band that the plan leaves open to one side, °C. */
const OPEN_BAND: [number, number] = [-60, 90];

/**
 * How the runs of a study are reduced, as its plan says: the schools, the band of the room, and what is held alike. A level that the plan
 * does not name is the reference specimen's under the same load; what the study varies is not held.
 * @param load the named load of the run, where the study has several
 */
export function planReduction(plan: StudyPlan, measured: MeasuredLevels | null, load: string | null = null): Partial<ReduceOptions> {
  const said = { ...PLAN_DEFAULTS, ...withoutNulls(plan) } as StudyPlan;
  const varied = new Set([said.varies, ...(said.design === 'two_by_two' ? [said.second_factor] : [])]);
  const loads = said.loads ?? [];
  // set-points are those of the run's own load, never an average over several
  const own = loads.length === 1 ? loads[0] : loads.find((l) => l.name === load);
  const step = own?.steps.filter((s) => s.stage === 'load').at(-1);
  const held = (level: keyof MeasuredLevels, isVaried: boolean) => (isVaried ? null : (step?.[level] ?? measured?.[level] ?? null));
  const fanVaries = varied.has('fan') || varied.has('cooler') || varied.has('setting') || said.fan_school !== 'fixed';
  return {
    value: VALUES[said.value_school ?? 'window'] ?? 'mean',
    at_s: said.at_s ?? null,
    aggregate: said.sensor_school === 'hottest' ? 'hottest' : null,
    ...(said.sensor_school === 'named' && said.sensor_name?.trim() ? { sensor: said.sensor_name.trim(), aggregate: 'named' as const } : {}),
    ambient_place: said.ambient_place ?? 'room',
    ambient_disagree_k: said.ambient_disagree_k ?? 2,
    absolute: said.ambient_school === 'absolute',
    part_sensors: (readPartLimits(said.part_limits ?? '') ?? []).flatMap((l) => l.sensors),
    rise_wanted: wantsRise(said) && !(own && isLadder(own)),
    prewarmed: said.steady_school === 'warmed',
    cold_start: said.steady_school === 'cold',
    // a device before and after boosts as it can: its power is told, not held
    power_held: said.design !== 'before_after' && said.load_school === 'fixed',
    power_w: held('power_w', varied.has('setting') || said.load_school !== 'fixed'),
    fan_rpm: held('fan_rpm', fanVaries),
    clock_mhz: held('clock_mhz', varied.has('setting') || said.load_school !== 'fixed'),
    ambient_band_c:
      said.coldest_c == null && said.warmest_c == null ? null : [said.coldest_c ?? OPEN_BAND[0], said.warmest_c ?? OPEN_BAND[1]],
    ambient_range_k: said.drift_k ?? null,
    ...(said.power_tolerance_pct == null ? {} : { power_tolerance: said.power_tolerance_pct / 100 }),
    ...(said.fan_tolerance_pct == null ? {} : { fan_tolerance: said.fan_tolerance_pct / 100 }),
  };
}

/** Outcomes that rest on a temperature of the part. */
const OF_TEMPERATURE = new Set<OutcomeKey>([
  'rise',
  'rise_at_power',
  'r_k_per_w',
  'hottest',
  'coldest',
  'sensor',
  'part_rise',
  'part_resistance',
  'idle_rise',
  'spread',
  'limit_room',
]);

/** Is a temperature of the part wanted of every run? Not where the plan names outcomes and none of them rests on one. */
export const wantsRise = (plan: Pick<StudyPlan, 'outcomes' | 'loads'>): boolean =>
  outcomeKeys(plan).length === 0 || outcomeKeys(plan).some((key) => OF_TEMPERATURE.has(key));

/** What a study is judged by: the rise, or the first of its outcomes where it is not among them. */
export function mainOutcome(plan: Pick<StudyPlan, 'outcomes' | 'loads'>): OutcomeKey {
  const keys = outcomeKeys(plan);
  return keys.length === 0 || keys.includes('rise') ? 'rise' : keys[0];
}

/** Outcomes that the plan names; of a study of ladders alone the highest passing clock, where it names none. */
function outcomeKeys({ outcomes, loads }: Pick<StudyPlan, 'outcomes' | 'loads'>): OutcomeKey[] {
  if ((outcomes ?? []).length > 0) return (outcomes ?? []).map((o) => o.key);
  return (loads ?? []).length > 0 && (loads ?? []).every(isLadder) ? ['highest_clock'] : [];
}

const withoutNulls = (plan: StudyPlan): Partial<StudyPlan> =>
  Object.fromEntries(Object.entries(plan).filter(([, v]) => v !== null && v !== undefined));
