import { insertChange } from '#app/database/changes';
import { type Client, transaction } from '#app/database/pool';
import { many } from '#app/database/query';
import { Refusal } from '#app/refusal';
import { refuseUnseen } from '#app/seen';
import { type FailureCause, failureWords, isFailureCause } from '#features/mount/model/failure';
import { setMountExcluded } from '#features/mount/store/attempts';

interface LeftOut {
  reason: string | null;
  cause: FailureCause | null;
}

/**
 * Leaves a mount out of the comparisons with a reason, or takes it in again. With a cause it was judged failed: it counts in the failure
 * rate.
 * @param given reason in 1 to 500 characters, or null to take it in again; cause of a failure, to which the reason adds; who in initials
 */
export const excludeMount = (mountId: number, given: Record<string, unknown>): Promise<LeftOut> =>
  transaction((client) =>
    leaveOut(client, mountId, readLeftOut(given), typeof given.who === 'string' ? given.who.trim().slice(0, 20) : '', given),
  );

/** Leaves a mount out, or takes it in again, with an entry in the journal. */
export async function leaveOut(
  client: Client,
  mountId: number,
  { reason, cause }: LeftOut,
  who: string,
  given: Record<string, unknown> = {},
): Promise<LeftOut> {
  const rows = await many<{ before: string | null; by: string }>(client)`
    select excluded_reason as before, excluded_by as by from mounts where id = ${mountId} for update`;
  if (rows[0]) {
    const theirs = rows[0].before === null ? 'included this mount again' : `left this mount out: “${rows[0].before}”`;
    refuseUnseen(given, rows[0].before, `Since this page was loaded ${rows[0].by || 'somebody else'} ${theirs}.`);
  }
  if (!(await setMountExcluded(client, mountId, reason, cause, who))) throw new Refusal(`There is no mount ${mountId}.`, 404);
  await insertChange(client, {
    ...{ who, subject: 'mount', subject_id: mountId, reason: reason ?? '' },
    action: reason === null ? 'include' : cause ? 'fail' : 'exclude',
    before: rows[0].before,
    after: reason,
  });
  return { reason, cause };
}

/** Why a mount is left out, as it was sent. */
export function readLeftOut(given: Record<string, unknown>): LeftOut {
  if (given.reason === null) return { reason: null, cause: null };
  const note = typeof given.reason === 'string' ? given.reason.trim() : '';
  if (isFailureCause(given.cause)) {
    const reason = failureWords(given.cause, note);
    if (reason.length <= 500) return { reason, cause: given.cause };
  } else if (given.cause !== undefined && given.cause !== null)
    throw new Refusal('Choose the cause from the list.', 400, { field: 'cause' });
  else if (note !== '' && note.length <= 500) return { reason: note, cause: null };
  throw new Refusal('Say in 1 to 500 characters why this mount is left out: the reason is printed in the report.', 400, {
    field: 'reason',
  });
}
