import { transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { type Found, openingProblem } from '#features/mount/model/opening';
import { getMountSetting } from '#features/mount/store/attempts';
import { insertOpening, setOpeningRemoved } from '#features/mount/store/openings';
import { type MountSheetView, mountSheet } from './mountSheet';

/** Writes down what was found when a mount was opened again. */
export async function recordOpening(mountId: number, given: Record<string, unknown>): Promise<MountSheetView> {
  const problem = openingProblem(given.found, given.note);
  if (problem) throw new Refusal(problem, 400, { field: 'found' });
  const note = typeof given.note === 'string' ? given.note.trim() : '';
  const who = typeof given.who === 'string' ? given.who.trim().slice(0, 20) : '';
  return transaction(async (client) => {
    if (!(await getMountSetting(client, mountId))) throw new Refusal(`There is no mount ${mountId}.`, 404);
    await insertOpening(client, { mount_id: mountId, found: given.found as Found[], note, who });
    return mountSheet(mountId, client);
  });
}

/** Takes a record of an opening out, or puts it back. */
export async function removeOpening(mountId: number, given: Record<string, unknown>): Promise<MountSheetView> {
  const { opening, removed } = given;
  if (!Number.isInteger(opening)) throw new Refusal('Say which opening.');
  return transaction(async (client) => {
    if (!(await setOpeningRemoved(client, mountId, opening as number, removed !== false)))
      throw new Refusal('That opening is not in the record of this mount.', 404);
    return mountSheet(mountId, client);
  });
}
