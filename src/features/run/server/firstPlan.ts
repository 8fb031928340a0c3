import { database } from '#app/database/pool';
import { OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';
import type { TypedValues } from '#features/run/model/typedRun';
import type { SpecimenKind } from '#features/shelf/model/materials';
import type { PlannedOutcome } from '#features/study/model/outcomes';
import type { StudyPlan } from '#features/study/model/studyPlan';
import { listMounts } from '#features/study/store/studies';

type Read = TypedValues & { load?: string | null };

/**
 * What a study is about that was opened by its first readings: its rigs, its loads, what was read of it where that is no temperature, and
 * where states were read, a before and after of them.
 */
export async function firstPlan(studyId: number, kind: SpecimenKind | undefined, rows: Read[]): Promise<Partial<StudyPlan>> {
  const loads = [...new Set(rows.flatMap((r) => r.load?.trim() || []))].map((name) => ({ name, steps: [] }));
  const outcomes = outcomesRead(rows);
  const rigs = [...new Set((await listMounts(database(), studyId)).map((m) => m.rig_id))];
  return {
    rigs,
    ...(loads.length > 0 ? { loads } : {}),
    ...(outcomes.length > 0 ? { outcomes } : {}),
    ...(kind === 'state' ? { design: 'before_after', varies: 'state' } : {}),
  };
}

const OUTCOME_OF: [OutcomeKey, (row: Read) => boolean][] = [
  ['time_to_event', (r) => (r.events ?? []).length > 0],
  ['score', (r) => Boolean(r.texts.score)],
  ['run_time', (r) => Boolean(r.texts.run_time_s)],
  ['frame_rate', (r) => Boolean(r.texts.frame_rate)],
  ['frame_time', (r) => Boolean(r.texts.frame_time_s)],
  ['noise', (r) => Boolean(r.texts.noise_db)],
  ['exhaust', (r) => Boolean(r.texts.exhaust_c)],
  ['fan_speed', (r) => Boolean(r.texts.fan_rpm && !/%/.test(r.texts.fan_rpm))],
  ['fan_duty', (r) => Boolean(r.texts.fan_rpm && /%/.test(r.texts.fan_rpm))],
  ['power', (r) => Boolean(r.texts.power_w)],
  ['clock', (r) => Boolean(r.texts.clock_mhz)],
];

/** What a table without a temperature of the part was read for; empty where it has one, for the rise is compared then. */
function outcomesRead(rows: Read[]): PlannedOutcome[] {
  const hasTemperature = (r: Read) =>
    (r.parts ?? []).length > 0 || (['mean_c', 'max_c', 'hottest_c', 'coldest_c', 'rise_k'] as const).some((f) => r.texts[f]);
  if (rows.some(hasTemperature)) return [];
  return OUTCOME_OF.filter(([, isRead]) => rows.some(isRead)).map(([key]) => ({ key, margin: OUTCOMES[key].margin }));
}
