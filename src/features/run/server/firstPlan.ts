import { database } from '#app/database/pool';
import { OUTCOMES } from '#core/compare/outcomes';
import { outcomesTyped } from '#features/run/model/typedAsked';
import type { TypedValues } from '#features/run/model/typedRun';
import type { SpecimenKind } from '#features/shelf/model/materials';
import type { StudyPlan } from '#features/study/model/studyPlan';
import { changePlan } from '#features/study/server/editPlan';
import { planVersion } from '#features/study/server/planView';
import { listMounts } from '#features/study/store/studies';

/** Writes into the plan of a study that was opened by a log what that log says of it. */
export async function planFromLog(studyId: number, kind: SpecimenKind | undefined): Promise<void> {
  const changes = { ...(await firstPlan(studyId, kind, [])) };
  await changePlan(studyId, { base: await planVersion(studyId), changes, insist: Object.keys(changes) });
}

type Read = TypedValues & { load?: string | null };

/**
 * What a study is about that was opened by its first readings: its rigs, its loads, what was read of it where that is no temperature, and
 * where states were read, a before and after of them; coolers are compared as coolers, at the noise and speed they were set to.
 */
export async function firstPlan(studyId: number, kind: SpecimenKind | undefined, rows: Read[]): Promise<Partial<StudyPlan>> {
  const loads = [...new Set(rows.flatMap((r) => r.load?.trim() || []))].map((name) => ({ name, steps: [] }));
  const outcomes = outcomesTyped(rows).map((key) => ({ key, margin: OUTCOMES[key].margin }));
  const rigs = [...new Set((await listMounts(database(), studyId)).map((m) => m.rig_id))];
  return {
    rigs,
    ...(loads.length > 0 ? { loads } : {}),
    ...(outcomes.length > 0 ? { outcomes } : {}),
    ...(kind === 'state' ? { design: 'before_after', varies: 'state' } : {}),
    ...(kind === 'cooler' ? { varies: 'cooler' } : {}),
  };
}
