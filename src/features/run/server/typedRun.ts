import { insertChange } from '#app/database/changes';
import { type Client, transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import type { ReduceOptions } from '#core/signal/reduce/types';
import type { RunPlace } from '#features/run/model/importPlan';
import { reduceValues, type StudyChange, TypedRun, TypedValues, typedProblem } from '#features/run/model/typedRun';
import { lockRun, updateReading } from '#features/run/store/judgements';
import {
  getRun,
  getRunByImport,
  insertFindings,
  insertRun,
  listRuns,
  lockImport,
  type PlacedRun,
  reserveRun,
  setStarted,
  setTyped,
} from '#features/run/store/runs';
import type { StudyPlan } from '#features/study/model/studyPlan';
import { changePlan, type PlanChange, type PlanChangeAnswer } from '#features/study/server/editPlan';
import { planVersion } from '#features/study/server/planView';
import { check } from '#rules/validation';
import { firstPlan } from './firstPlan';
import { type ImportedRun, reductionOptions } from './importRun';
import { judgedFigures } from './judge';
import { type FoundPlace, findPlace } from './place';
import { refuseUnseenRun } from './seenRun';

/** Stores a run whose values were read from a display. Repeating it with the same id gives the same run again. */
export async function storeTyped(given: Record<string, unknown>): Promise<ImportedRun> {
  const { import_id, place, read_at, study, ...values } = check(TypedRun, given);
  const stored = await transaction(async (client) => {
    await lockImport(client, import_id);
    const known = await getRunByImport(client, import_id);
    if (known) {
      const { id, study_id, specimen_id, mount_id, rig_id } = known;
      return { run_id: id, study_id, specimen_id, mount_id, rig_id, repeated: true };
    }
    return { ...(await insertTyped(client, { import_id, place, read_at, values })), repeated: false };
  });
  const opened = place.study_id ? {} : await firstPlan(stored.study_id, place.specimen_kind, [{ ...values, load: place.load }]);
  const change = { ...opened, ...study };
  if (!stored.repeated && Object.keys(change).length > 0) await changeStudy(stored.study_id, change, [stored.run_id]);
  return stored;
}

interface StoredEntry extends FoundPlace {
  run_id: number;
}

interface TypedEntry {
  import_id: string;
  place: RunPlace;
  /** null where it is not known, missing for now */
  read_at: string | null | undefined;
  /** how the runs of its study are reduced there, where that is known already */
  options?: Partial<ReduceOptions>;
  values: TypedValues;
}

/** Reduces what was typed under the choices of its study, and stores it as the next run of its mount. */
export async function insertTyped(client: Client, { import_id, place, read_at, values, ...known }: TypedEntry): Promise<StoredEntry> {
  const problem = typedProblem(values);
  if (problem) throw new Refusal(problem);
  const options = known.options ?? (await reductionOptions(client, { place }));
  const { findings, ...result } = reduceValues(values, options);
  const where = await findPlace(client, place);
  const run_id = await reserveRun(client);
  await insertRun(client, {
    ...{ id: run_id, import_id, mount_id: where.mount_id, options, result, reading: {}, load: place.load ?? null },
    ...{ started_at: read_at === null ? null : read_at ? new Date(read_at) : new Date(), started_zoned: true },
  });
  await setTyped(client, run_id, values);
  await insertFindings(client, run_id, findings);
  return { run_id, ...where };
}

/** Fields of a plan that decide which of a person's readings counts. */
const DECIDING = ['value_school', 'sensor_school', 'sensor_name', 'ambient_school', 'outcomes'];

/** Writes changed fields of a plan, and reads the typed runs of its study anew where they count otherwise now. */
export async function changePlanAndRead(studyId: number, change: PlanChange): Promise<PlanChangeAnswer> {
  const answer = await changePlan(studyId, change);
  if (Object.keys(change.changes).some((field) => DECIDING.includes(field))) await rereadTyped(studyId);
  return answer;
}

/**
 * Changes what the study compares by, and reads all its typed runs anew under it.
 * @param fresh runs that were stored just now, with the change: nothing of them was before
 */
export async function changeStudy(studyId: number, change: StudyChange | Partial<StudyPlan>, fresh: number[]): Promise<void> {
  const changes = Object.fromEntries(Object.entries(change).filter(([, v]) => v !== undefined));
  await changePlan(studyId, { base: await planVersion(studyId), changes, insist: Object.keys(changes) });
  await rereadTyped(studyId, fresh);
}

/** Corrects what was typed for a run; the journal keeps what was typed before. */
export async function editTyped(id: number, given: Record<string, unknown>): Promise<{ run_id: number }> {
  const { who: initials, reason: why, read_at, ...sent } = given;
  const values = check(TypedValues, sent);
  const problem = typedProblem(values);
  if (problem) throw new Refusal(problem);
  const who = typeof initials === 'string' ? initials.trim().slice(0, 20) : '';
  const reason = typeof why === 'string' ? why.trim().slice(0, 500) : '';
  const at = typeof read_at === 'string' ? new Date(read_at) : null;
  if (at && Number.isNaN(at.getTime())) throw new Refusal('The time it was read is a date with a time.', 400, { field: 'read_at' });
  return transaction(async (client) => {
    await lockRun(client, id);
    await refuseUnseenRun(client, id, given);
    const run = await typedRun(client, id);
    await readUnder(client, run, values, run.options as Partial<ReduceOptions>, { action: 'correct', who, reason });
    await setTyped(client, id, values);
    if (at) await setStarted(client, id, at);
    return { run_id: id };
  });
}

/** Reads all typed runs of a study anew under its choices as they are now; gives how many read otherwise. */
const rereadTyped = (studyId: number, fresh: number[] = []): Promise<number> =>
  transaction(async (client) => {
    let changed = 0;
    // alike for all runs of one specimen on one rig under one load
    const reductions = new Map<string, Partial<ReduceOptions>>();
    for (const run of (await listRuns(client, studyId)).filter((r) => r.typed !== null)) {
      const before = run.options as Partial<ReduceOptions>;
      const { specimen_id, rig_id, load } = run;
      const key = `${specimen_id} ${rig_id} ${load}`;
      const now =
        reductions.get(key) ?? (await reductionOptions(client, { place: { study_id: studyId, specimen_id, rig_id, load } as RunPlace }));
      reductions.set(key, now);
      // what was decided of the run itself stays
      const kept = { accept: before.accept, room_c: before.room_c, room_u_k: before.room_u_k, first: before.first };
      const how = fresh.includes(run.id) ? null : { action: 'reread', who: '', reason: 'The study now compares another reading.' };
      if (await readUnder(client, run, run.typed as TypedValues, { ...now, ...kept }, how)) changed++;
    }
    return changed;
  });

/** Reads a typed run under options; false where it says the same as before. */
export async function readUnder(
  client: Client,
  run: PlacedRun,
  values: TypedValues,
  options: Partial<ReduceOptions>,
  how: { action: string; who: string; reason: string } | null,
): Promise<boolean> {
  const { findings, ...result } = reduceValues(values, options);
  const [before, after] = [judgedFigures(run), judgedFigures({ result })];
  await updateReading(client, run.id, result, findings, { reading: run.reading, options }, null);
  const isSame = JSON.stringify(before) === JSON.stringify(after);
  if (how === null || (isSame && how.action === 'reread')) return !isSame;
  await insertChange(client, {
    ...{ subject: 'run', subject_id: run.id, ...how },
    before: { ...before, typed: how.action === 'correct' ? run.typed : undefined },
    after: { ...after, typed: how.action === 'correct' ? values : undefined },
  });
  return true;
}

export async function typedRun(client: Client, id: number): Promise<PlacedRun> {
  const run = await getRun(client, id);
  if (!run) throw new Refusal(`There is no run ${id}.`, 404);
  if (!run.typed) throw new Refusal('This run was read from a log; its readings are corrected in its window and decisions.', 409);
  return run;
}
