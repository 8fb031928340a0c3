import { type Client, database, transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import type { ReduceOptions } from '#core/signal/reduce/types';
import { getMountSetting } from '#features/mount/store/attempts';
import { ClimbEntry, isSameStep, withSteps } from '#features/run/model/climb';
import { type TypedAsked, typedAsked } from '#features/run/model/typedAsked';
import type { TypedStep, TypedValues } from '#features/run/model/typedRun';
import { lockRun } from '#features/run/store/judgements';
import { getRunByImport, listMountRuns, lockImport, setTyped } from '#features/run/store/runs';
import { listSpecimens } from '#features/study/store/studies';
import { check } from '#rules/validation';
import { insertTyped, readUnder, typedRun } from './typedRun';

/** How a mount is climbing its ladders. */
export interface ClimbView {
  mount: {
    id: number;
    number: number;
    specimen: string;
    specimen_id: number;
    position: number;
    rig: string;
    rig_id: number;
    study_id: number;
    study: string;
  };
  /** of the study, for the mount after this one */
  specimens: { id: number; name: string }[];
  /** ladders that the study plans */
  ladders: TypedAsked['ladders'];
  /** climbs of this mount, in their order */
  climbs: { run_id: number; number: number; load: string | null; steps: TypedStep[] }[];
}

/** The ladders of a mount as far as they were climbed. */
export async function climbView(mountId: number, db: Client = database()): Promise<ClimbView> {
  const row = await getMountSetting(db, mountId);
  if (!row) throw new Refusal(`There is no mount ${mountId}.`, 404);
  const { id, number, specimen, specimen_id, position, rig, rig_id, study_id, study, study_plan } = row;
  const [runs, specimens] = await Promise.all([listMountRuns(db, mountId), listSpecimens(db, study_id)]);
  return {
    mount: { id, number, specimen, specimen_id, position, rig, rig_id, study_id, study },
    specimens: specimens.map(({ id: key, name }) => ({ id: key, name })),
    ladders: typedAsked(study_plan).ladders,
    climbs: runs.flatMap((r) => {
      const steps = (r.typed as TypedValues | null)?.ladder ?? [];
      return steps.length > 0 ? [{ run_id: r.id, number: r.number, load: r.load, steps }] : [];
    }),
  };
}

/** Writes steps of a climb, the first of which begin a run; the run is read anew each time, so that results follow while one tests. */
export async function saveSteps(mountId: number, given: Record<string, unknown>): Promise<ClimbView> {
  const { load, run_id, import_id, steps, taken_back } = check(ClimbEntry, given);
  return transaction(async (client) => {
    const row = await getMountSetting(client, mountId);
    if (!row) throw new Refusal(`There is no mount ${mountId}.`, 404);
    await lockImport(client, import_id);
    const begun = run_id ?? (await getRunByImport(client, import_id))?.id ?? null;
    if (begun === null) {
      if (steps.length === 0) throw new Refusal('Say how the first step ended.');
      const place = { study_id: row.study_id, specimen_id: row.specimen_id, mount_id: mountId, rig_id: row.rig_id, load };
      await insertTyped(client, { import_id, place, read_at: undefined, values: { texts: {}, ladder: withSteps([], steps) } });
    } else await extend(client, mountId, begun, steps, taken_back);
    return climbView(mountId, client);
  });
}

async function extend(client: Client, mountId: number, runId: number, steps: TypedStep[], taken: ClimbEntry['taken_back']): Promise<void> {
  await lockRun(client, runId);
  const run = await typedRun(client, runId);
  if (run.mount_id !== mountId) throw new Refusal('That climb is of another mount.', 409);
  const before = run.typed as TypedValues;
  const ladder = withSteps(before.ladder ?? [], steps, taken);
  if (ladder.length === 0)
    throw new Refusal('The last step of a climb cannot be deleted: correct how it ended, or exclude its run with a reason.', 409);
  const values = { ...before, ladder };
  // a further step is no correction; one that is entered again is
  const isCorrection = (before.ladder ?? []).some((s) => !ladder.some((o) => isEnteredAlike(o, s)));
  await readUnder(
    client,
    run,
    values,
    run.options as Partial<ReduceOptions>,
    isCorrection ? { action: 'correct', who: '', reason: 'A step of the ladder was entered again.' } : null,
  );
  await setTyped(client, runId, values);
}

/** Is a step the same, ended the same, at the same temperature and for the same time? */
const isEnteredAlike = (a: TypedStep, b: TypedStep): boolean =>
  isSameStep(a, b) && a.end === b.end && (a.temperature ?? '') === (b.temperature ?? '') && (a.held ?? '') === (b.held ?? '');
