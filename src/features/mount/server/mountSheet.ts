import { type Client, database, transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { type AttemptOutcome, readStep, TRY_ENDS } from '#features/mount/model/attempt';
import { FAILURE_CAUSES, type FailureCause, isFailureCause } from '#features/mount/model/failure';
import { NewMount } from '#features/mount/model/newMount';
import { isAcknowledged, type MaskingSchool } from '#features/mount/model/steps';
import type { AmountSchool, MountStep } from '#features/mount/model/stepTypes';
import { WORK, type WorkKind } from '#features/mount/model/work';
import {
  type AttemptRow,
  getMountSetting,
  insertAttempt,
  listAttempts,
  lockOpenAttempt,
  type MountSettingRow,
  saveAttempt,
} from '#features/mount/store/attempts';
import { type FaultRow, listFaults } from '#features/mount/store/faults';
import { listOpenings, type OpeningRow } from '#features/mount/store/openings';
import { listPhotographs, type PhotographRow } from '#features/mount/store/photographs';
import type { TeardownStep } from '#features/shelf/model/teardown';
import { listRigs } from '#features/shelf/store/rigs';
import { isLadder } from '#features/study/model/loadFigures';
import { resolvePlan } from '#features/study/model/resolve';
import { openRig, openSpecimen } from '#features/study/server/opened';
import { planView } from '#features/study/server/planView';
import { getStudy, insertMount, listSpecimens } from '#features/study/store/studies';
import { check } from '#rules/validation';
import { leaveOut, readLeftOut } from './excluded';
import { type MountFacts, mountFacts } from './mountFacts';
import { mountAnew } from './remount';
import { readWho } from './who';

export interface MountSheetView extends MountFacts {
  mount: Pick<
    MountSettingRow,
    | 'id'
    | 'number'
    | 'study_id'
    | 'study'
    | 'specimen_id'
    | 'specimen'
    | 'position'
    | 'rig'
    | 'rig_id'
    | 'runs'
    | 'excluded_reason'
    | 'failed_cause'
  >;
  /** finished tries, oldest first */
  past: AttemptRow[];
  /** the try under way; null where the mount is ready */
  current: AttemptRow | null;
  /** faults that showed after it was made */
  faults: FaultRow[];
  /** what was found when it was opened again */
  openings: OpeningRow[];
  photographs: PhotographRow[];
  /** torque that the cooler's sheet asks for, N·m */
  torque_nm: number | null;
  /** ladders that are climbed on it, by their loads */
  ladders: string[];
  /** the rig's take-apart list */
  teardown: TeardownStep[];
  /** the mount that was opened in its place, where its runs were judged failed just now */
  opened?: number;
}

/** A mount with the steps that its material, part and rig ask for, and how far it is. */
export async function mountSheet(id: number, db: Client = database()): Promise<MountSheetView> {
  const row = await getMountSetting(db, id);
  if (!row) throw new Refusal(`There is no mount ${id}.`, 404);
  const attempts = await listAttempts(db, id);
  const current = attempts.find((a) => a.outcome === null) ?? null;
  const plan = await planView(row.study_id, db);
  const resolved = resolvePlan(plan.plan, plan.context);
  const others = plan.mounts.some((m) => m.state === 'planned' && m.specimen !== row.specimen && m.rig === row.rig);
  const last = current ?? attempts.at(-1) ?? null;
  const facts = mountFacts(row, last, {
    ...{ others_follow: others, run_min: resolved.said.run_min },
    ...{ amount: resolved.said.amount_school as AmountSchool, masking: resolved.said.masking_school as MaskingSchool },
  });
  const { id: mount, number, study_id, study, specimen_id, specimen, position, rig, rig_id, runs, excluded_reason, failed_cause } = row;
  return {
    mount: { id: mount, number, study_id, study, specimen_id, specimen, position, rig, rig_id, runs, excluded_reason, failed_cause },
    ...facts,
    past: attempts.filter((a) => a.outcome !== null),
    current,
    faults: await listFaults(db, id),
    openings: await listOpenings(db, id),
    photographs: await listPhotographs(db, id),
    torque_nm: row.cooler?.sheet.torque_nm ?? null,
    teardown: row.teardown,
    ladders: (row.study_plan.loads ?? []).filter(isLadder).map((l) => l.name),
  };
}

/** Begins a mount of a specimen on a rig, each there or new, with its first try; one that is made already has none. */
export async function beginMount(studyId: number, sent: Record<string, unknown>): Promise<{ id: number }> {
  const given = check(NewMount, sent);
  return transaction(async (client) => {
    if (!(await getStudy(client, studyId))) throw new Refusal(`There is no study ${studyId}.`, 404);
    const specimen = given.specimen_id ?? (await openSpecimen(client, studyId, given));
    if (!(await listSpecimens(client, studyId)).some((s) => s.id === specimen))
      throw new Refusal('Say which specimen of this study is mounted.', 400, { field: 'specimen_id' });
    const rig = given.rig_id ?? (await openRig(client, given));
    if (!(await listRigs(client)).some((r) => r.id === rig && !r.archived))
      throw new Refusal('Say on which rig it is mounted.', 400, { field: 'rig_id' });
    const { id } = await insertMount(client, specimen, rig, '');
    if (!given.made) await insertAttempt(client, id, readWho(given.who));
    return { id };
  });
}

/**
 * Begins the first try of a mount that was imported, or the next of one that was lifted before any run.
 * @param given who in initials; outcome, cause and reason of the try before, where that was ready
 */
export const beginAttempt = async (mountId: number, given: Record<string, unknown>): Promise<MountSheetView> =>
  transaction(async (client) => {
    const row = await getMountSetting(client, mountId);
    if (!row) throw new Refusal(`There is no mount ${mountId}.`, 404);
    const last = (await listAttempts(client, mountId)).at(-1);
    if (last?.outcome === 'ready') {
      if (row.runs > 0) throw new Refusal('This mount has runs; once the cooler was lifted and put back, it is a new mount.', 409);
      await saveAttempt(client, { ...last, ...readFailedEnd(given) });
    }
    await insertAttempt(client, mountId, readWho(given.who));
    return mountSheet(mountId, client);
  });

/** Writes what was done at one step; the other steps stay as they are, so that two devices can work on one mount. */
export const saveStep = async (mountId: number, given: Record<string, unknown>): Promise<MountSheetView> =>
  transaction(async (client) => {
    const attempt = await openAttempt(client, mountId);
    if (given.who !== undefined) attempt.who = readWho(given.who);
    if (given.work !== undefined) attempt.work = readWork(given.work);
    if (given.step !== undefined) {
      const read = readStep(given.step, given.state, attempt.steps);
      if ('problem' in read) throw new Refusal(read.problem, 400, { field: read.field });
      const old = attempt.steps[read.key] ?? {};
      attempt.steps = { ...attempt.steps, [read.key]: { ...old, ...read.state, records: { ...old.records, ...read.state.records } } };
      if (read.state.interfaces)
        attempt.steps[read.key] = { ...attempt.steps[read.key], interfaces: { ...old.interfaces, ...read.state.interfaces } };
      await checkDone(client, mountId, attempt, read.key);
    }
    await saveAttempt(client, attempt);
    return mountSheet(mountId, client);
  });

/** A step is not done before its grave caution is acknowledged, or its hard stop has a reason. */
async function checkDone(client: Client, mountId: number, attempt: AttemptRow, key: MountStep['key']): Promise<void> {
  const state = attempt.steps[key];
  if (!state?.done_at) return;
  const view = await mountSheet(mountId, client);
  const step = view.steps.find((s) => s.key === key);
  if (step?.grave && !isAcknowledged(step, view.steps, attempt.steps))
    throw new Refusal('Acknowledge the caution first.', 400, { field: 'acknowledged_at' });
  const stop = view.stops.find((s) => s.step === key);
  if (stop && !state.stop_reason) throw new Refusal(`${stop.message} Give a reason to go on anyway.`, 400, { field: 'stop_reason' });
}

/** Ends the try under way; one that is not ready keeps its reason, and the next begins. */
export const endAttempt = async (mountId: number, given: Record<string, unknown>): Promise<MountSheetView> =>
  transaction(async (client) => {
    const attempt = await openAttempt(client, mountId);
    const end = given.outcome === 'ready' ? { outcome: 'ready' as const, reason: '', cause: null } : readFailedEnd(given);
    await saveAttempt(client, { ...attempt, ...end, ended_at: new Date() });
    if (end.outcome === 'ready') return mountSheet(mountId, client);
    const row = await getMountSetting(client, mountId);
    if (row && row.runs > 0) {
      // what ran is a mount, and stays one: it failed, and the next application is the next mount
      await leaveOut(client, mountId, readLeftOut({ reason: end.reason, cause: end.cause ?? 'unknown' }), attempt.who);
      return { ...(await mountSheet(mountId, client)), opened: (await mountAnew(client, row, attempt.who)).id };
    }
    await insertAttempt(client, mountId, attempt.who);
    return mountSheet(mountId, client);
  });

/** How a try failed, as it was sent: what happened, and its cause or a reason. */
function readFailedEnd(given: Record<string, unknown>): { outcome: AttemptOutcome; reason: string; cause: FailureCause | null } {
  const { outcome } = given;
  if (typeof outcome !== 'string' || !Object.hasOwn(TRY_ENDS, outcome) || outcome === 'ready')
    throw new Refusal(
      `A try that failed ended as one of ${Object.keys(TRY_ENDS)
        .filter((k) => k !== 'ready')
        .join(', ')}.`,
    );
  const cause = isFailureCause(given.cause) ? given.cause : null;
  const note = typeof given.reason === 'string' ? given.reason.trim() : '';
  // a cause from the list is reason enough
  const reason = note === '' && cause !== null ? FAILURE_CAUSES[cause].name : note;
  if (reason === '' || reason.length > 500)
    throw new Refusal('Choose a cause, or say in 1 to 500 characters what happened: it stays in the record.', 400, { field: 'reason' });
  return { outcome: outcome as AttemptOutcome, reason, cause };
}

async function openAttempt(client: Client, mountId: number): Promise<AttemptRow> {
  if (!(await getMountSetting(client, mountId))) throw new Refusal(`There is no mount ${mountId}.`, 404);
  const attempt = await lockOpenAttempt(client, mountId);
  if (!attempt) throw new Refusal('No try of this mount is under way; begin one first.', 409);
  return attempt;
}

function readWork(work: unknown): WorkKind[] {
  if (!Array.isArray(work) || !work.every((w) => typeof w === 'string' && Object.hasOwn(WORK, w)))
    throw new Refusal(`Work on the machine is a list of ${Object.keys(WORK).join(', ')}.`);
  return (Object.keys(WORK) as WorkKind[]).filter((w) => work.includes(w));
}
