import { insertChange } from '#app/database/changes';
import { transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { refuseUnseen } from '#app/seen';
import { getMountSetting } from '#features/mount/store/attempts';
import { MoveMount } from '#features/run/model/moveMount';
import { isLiveOn, placeMount } from '#features/run/store/placed';
import { listRigs } from '#features/shelf/store/rigs';
import { listSpecimens } from '#features/study/store/studies';
import { check } from '#rules/validation';
import { readMount } from './placedReading';

/** Where a mount stands now, and where it stood. */
export interface MovedMount {
  mount_id: number;
  study_id: number;
  number: number;
  was: { specimen_id: number; rig_id: number; number: number };
}

/**
 * Moves a mount with its runs, tries and photographs to another specimen or rig, and reads its runs anew as they are asked for there. The
 * journal of the mount and of each run keeps what it was.
 * @throws Refusal where the mount, the specimen or the rig is not there, it stands there already, or a live run goes on on it
 */
export async function moveMount(id: number, given: Record<string, unknown>): Promise<MovedMount> {
  const { specimen_id, rig_id, number, reason, who } = check(MoveMount, given);
  const moved = await transaction(async (client) => {
    const mount = await getMountSetting(client, id);
    if (!mount) throw new Refusal(`There is no mount ${id}.`, 404);
    const specimen = (await listSpecimens(client)).find((s) => s.id === specimen_id);
    if (!specimen) throw new Refusal('That specimen no longer exists; choose another.', 404);
    const rig = (await listRigs(client)).find((r) => r.id === rig_id);
    if (!rig) throw new Refusal('That rig no longer exists; choose another.', 404);
    refuseUnseen(
      given,
      { specimen_id: mount.specimen_id, rig_id: mount.rig_id, number: mount.number },
      `Somebody else moved this mount meanwhile: it is ${mount.specimen}, mount ${mount.number}, on ${mount.rig} now.`,
    );
    if (mount.specimen_id === specimen_id && mount.rig_id === rig_id && (number ?? mount.number) === mount.number)
      throw new Refusal('The mount is already there.', 409);
    if (await isLiveOn(client, id)) throw new Refusal('A live run is under way on this mount. End it first, then move the mount.', 409);
    const to = await placeMount(client, id, { specimen_id, rig_id, number: number ?? null });
    await insertChange(client, {
      ...{ subject: 'mount', subject_id: id, action: 'move', who },
      reason: [
        `${mount.specimen}, mount ${mount.number}, ${mount.rig} → ${specimen.name}, mount ${to}, ${rig.name}`,
        ...(specimen.study_id === mount.study_id ? [] : [`from "${mount.study}"`]),
        ...(reason.trim() ? [reason.trim()] : []),
      ]
        .join('. ')
        .slice(0, 500),
      before: { specimen_id: mount.specimen_id, rig_id: mount.rig_id, number: mount.number },
      after: { specimen_id, rig_id, number: to },
    });
    const was = { specimen_id: mount.specimen_id, rig_id: mount.rig_id, number: mount.number };
    return { mount_id: id, study_id: specimen.study_id, number: to, was };
  });
  await readMount(id, 'The mount was moved.');
  return moved;
}
