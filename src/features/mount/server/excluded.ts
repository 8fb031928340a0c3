import { insertChange } from '#app/database/changes';
import { transaction } from '#app/database/pool';
import { many } from '#app/database/query';
import { Refusal } from '#app/refusal';
import { setMountExcluded } from '#features/mount/store/attempts';

/**
 * Leaves a mount out of the comparisons with a reason, or takes it in again.
 * @param given reason in 1 to 500 characters, or null to take it in again; who in initials
 */
export async function excludeMount(mountId: number, given: Record<string, unknown>): Promise<{ reason: string | null }> {
  const who = typeof given.who === 'string' ? given.who.trim().slice(0, 20) : '';
  const reason = typeof given.reason === 'string' ? given.reason.trim() : given.reason === null ? null : undefined;
  if (reason === undefined || reason === '' || (reason !== null && reason.length > 500))
    throw new Refusal('Say in 1 to 500 characters why this mount is left out: the reason is printed in the report.', 400, {
      field: 'reason',
    });
  return transaction(async (client) => {
    const rows = await many<{ before: string | null }>(client)`
      select excluded_reason as before from mounts where id = ${mountId} for update`;
    if (!(await setMountExcluded(client, mountId, reason, who))) throw new Refusal(`There is no mount ${mountId}.`, 404);
    const action = reason === null ? 'include' : 'exclude';
    await insertChange(client, {
      who,
      subject: 'mount',
      subject_id: mountId,
      action,
      reason: reason ?? '',
      before: rows[0].before,
      after: reason,
    });
    return { reason };
  });
}
