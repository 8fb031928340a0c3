import { insertChange } from '#app/database/changes';
import { type Client, database, transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import type { LogOptions } from '#core/signal/logs/types';
import { MoveRun } from '#features/run/model/moveRun';
import { lockRun, updateReading } from '#features/run/store/judgements';
import { getRun, type PlacedRun, placeRun } from '#features/run/store/runs';
import { listRigs } from '#features/shelf/store/rigs';
import { getStudy, insertMount, listMounts, listSpecimens } from '#features/study/store/studies';
import { check } from '#rules/validation';
import { judgedFigures } from './judge';
import { optionsThere, readFollowers } from './placedReading';
import { readAnew } from './readAnew';
import { refuseReadMeanwhile, refuseUnseenRun } from './seenRun';

/** Where a run stands now. */
export interface MovedRun {
  run_id: number;
  mount_id: number;
  study_id: number;
}

/**
 * Moves a run to another mount, and reads it anew as its study, rig and the mount's first run ask there; what a person decided of the run
 * itself stays. The journal of the run keeps where it came from.
 * @throws Refusal where the run, the mount, the specimen or the rig is not there, or it stands there already
 */
export async function moveRun(id: number, given: Record<string, unknown>): Promise<MovedRun> {
  const asked = check(MoveRun, given);
  const db = database();
  const run = await getRun(db, id);
  if (!run) throw new Refusal(`There is no run ${id}.`, 404);
  const target = await targetOf(db, asked);
  if (target.mount_id === run.mount_id) throw new Refusal('The run already belongs to this mount.', 409);
  const loads = ((await getStudy(db, target.study_id))?.plan.loads ?? []).map((l) => l.name);
  const load = run.load !== null && loads.includes(run.load) ? run.load : null;
  const options = await optionsThere(db, run, target, load);
  const { findings, ...result } = await readAnew(run, run.reading as LogOptions, options);
  const moved = await transaction(async (client) => {
    await lockRun(client, id);
    const now = await getRun(client, id);
    if (!now) throw new Refusal(`There is no run ${id}.`, 404);
    await refuseUnseenRun(client, id, given);
    refuseReadMeanwhile(run, now);
    const mount_id = target.mount_id ?? (await insertMount(client, target.specimen_id, target.rig_id, '')).id;
    await placeRun(client, id, mount_id, load);
    await updateReading(client, id, result, findings, { reading: now.reading, options }, now.automatic);
    const there = await getRun(client, id);
    await insertChange(client, {
      ...{ subject: 'run', subject_id: id, action: 'move', who: asked.who ?? '' },
      reason: [`${placeWords(now)} → ${there ? placeWords(there) : ''}`, asked.reason?.trim()].filter(Boolean).join('. '),
      before: { ...judgedFigures(now), mount_id: now.mount_id },
      after: { ...judgedFigures({ result }), mount_id },
    });
    return { run_id: id, mount_id, study_id: target.study_id };
  });
  // those that were judged against it as their mount's first are judged against the next
  await readFollowers(run.mount_id);
  return moved;
}

interface Target {
  study_id: number;
  specimen_id: number;
  rig_id: number;
  /** null for a new mount */
  mount_id: number | null;
}

async function targetOf(db: Client, { mount_id, specimen_id, rig_id }: MoveRun): Promise<Target> {
  const specimens = await listSpecimens(db);
  if (mount_id) {
    const mount = (await listMounts(db)).find((m) => m.id === mount_id);
    const specimen = specimens.find((s) => s.id === mount?.specimen_id);
    if (!mount || !specimen) throw new Refusal('That mount no longer exists; choose another.', 404);
    return { study_id: specimen.study_id, specimen_id: specimen.id, rig_id: mount.rig_id, mount_id };
  }
  const specimen = specimens.find((s) => s.id === specimen_id);
  if (!specimen) throw new Refusal('Choose a mount, or the specimen of a new mount.', 400, { field: 'specimen_id' });
  const rig = (await listRigs(db)).find((r) => r.id === rig_id);
  if (!rig) throw new Refusal('Choose the rig of the new mount.', 400, { field: 'rig_id' });
  return { study_id: specimen.study_id, specimen_id: specimen.id, rig_id: rig.id, mount_id: null };
}

const placeWords = (run: PlacedRun): string => `${run.specimen}, mount ${run.mount}`;
