import { transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { FAULT_CHECKS, FAULTS, type FaultCheck, type FaultKind } from '#features/mount/model/fault';
import { getMountSetting } from '#features/mount/store/attempts';
import { checkFault, insertFault } from '#features/mount/store/faults';
import { type MountSheetView, mountSheet } from './mountSheet';

/** Reports a fault of a mount at any time after it was made; its earlier runs are flagged with it. */
export async function reportFault(mountId: number, given: Record<string, unknown>): Promise<MountSheetView> {
  const note = typeof given.note === 'string' ? given.note.trim() : '';
  const who = typeof given.who === 'string' ? given.who.trim().slice(0, 20) : '';
  if (typeof given.kind !== 'string' || !Object.hasOwn(FAULTS, given.kind))
    throw new Refusal(`A fault is one of ${Object.keys(FAULTS).join(', ')}.`);
  if (note.length < 1 || note.length > 500)
    throw new Refusal('Say in 1 to 500 characters what happened: it stays in the record.', 400, { field: 'note' });
  return transaction(async (client) => {
    const mount = await getMountSetting(client, mountId);
    if (!mount) throw new Refusal(`There is no mount ${mountId}.`, 404);
    const message = `A fault of this mount was reported after this run: ${FAULTS[given.kind as FaultKind].toLowerCase()} (${note}). The run may have been affected by it.`;
    await insertFault(client, { mount_id: mountId, kind: given.kind as FaultKind, note, who }, message);
    return mountSheet(mountId, client);
  });
}

/** Says that a fault was inspected, or that the move test after its repair passed. */
export async function settleFault(mountId: number, given: Record<string, unknown>): Promise<MountSheetView> {
  const { fault, check, done } = given;
  if (!Number.isInteger(fault) || typeof check !== 'string' || !Object.hasOwn(FAULT_CHECKS, check))
    throw new Refusal('Say which fault, and what was done: inspected_at or moved_at.');
  return transaction(async (client) => {
    if (!(await checkFault(client, mountId, fault as number, check as FaultCheck, done !== false)))
      throw new Refusal('That fault is not in the record of this mount.', 404);
    return mountSheet(mountId, client);
  });
}
