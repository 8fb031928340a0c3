import { type Client, transaction } from '#app/database/pool';
import { isRecord } from '#app/http';
import { Refusal } from '#app/refusal';
import { getMountSetting, insertAttempt, type MountSettingRow } from '#features/mount/store/attempts';
import { insertMount } from '#features/study/store/studies';
import { leaveOut, readLeftOut } from './excluded';
import { readWho } from './who';

/**
 * The cooler of a mount that ran was lifted and is put on again: a new mount of the same specimen on the same rig, with its first try. The
 * one before stays with its runs, as failed where its temperatures were judged so.
 * @param given who in initials; failed with cause and reason, where the mount before is judged failed
 * @returns the new mount
 */
export const remount = (mountId: number, given: Record<string, unknown>): Promise<{ id: number }> =>
  transaction(async (client) => {
    const row = await getMountSetting(client, mountId);
    if (!row) throw new Refusal(`There is no mount ${mountId}.`, 404);
    if (row.runs === 0)
      throw new Refusal('This mount has no run yet; once the cooler was lifted and put back, it is a further try of this mount.', 409);
    const who = readWho(given.who);
    if (isRecord(given.failed)) await leaveOut(client, mountId, readLeftOut(given.failed), who);
    return mountAnew(client, row, who);
  });

/** The next mount of the same specimen on the same rig, with its first try. */
export async function mountAnew(client: Client, { specimen_id, rig_id }: MountSettingRow, who: string): Promise<{ id: number }> {
  const { id } = await insertMount(client, specimen_id, rig_id, '');
  await insertAttempt(client, id, who);
  return { id };
}
