import type { Client } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import type { RunPlace } from '#features/run/model/importPlan';
import { listRigs } from '#features/shelf/store/rigs';
import { insertNewStudy } from '#features/study/server/newStudy';
import { openRig, openSpecimen } from '#features/study/server/opened';
import { getStudy, insertMount, listMounts, listSpecimens } from '#features/study/store/studies';

/** Where a run was stored. */
export interface FoundPlace {
  study_id: number;
  specimen_id: number;
  mount_id: number;
  rig_id: number;
}

/** Finds or opens study, specimen, rig and mount, and refuses what does not fit together. */
export async function findPlace(client: Client, place: RunPlace): Promise<FoundPlace> {
  const studyId = place.study_id ?? (await openStudy(client, place));
  if (!(await getStudy(client, studyId))) throw new Refusal('The study no longer exists; choose another or start a new one.', 404);
  const specimenId = place.specimen_id ?? (await openSpecimen(client, studyId, place));
  const specimen = (await listSpecimens(client, studyId)).find((s) => s.id === specimenId);
  if (!specimen) throw new Refusal('The specimen does not belong to this study; choose one of its specimens or name a new one.');
  const rigId = place.rig_id ?? (await openRig(client, place));
  const rig = (await listRigs(client)).find((r) => r.id === rigId);
  if (!rig) throw new Refusal('The rig no longer exists; choose another or name a new one.', 404);
  if (!place.mount_id) {
    const { id } = await insertMount(client, specimenId, rigId, place.mount_note ?? '', place.mount_number ?? null);
    return { study_id: studyId, specimen_id: specimenId, mount_id: id, rig_id: rigId };
  }
  const mount = (await listMounts(client, studyId)).find((m) => m.id === place.mount_id);
  if (!mount || mount.specimen_id !== specimenId)
    throw new Refusal(`The mount does not belong to ${specimen.name}; choose one of its mounts or a new one.`);
  if (mount.rig_id !== rigId) {
    throw new Refusal(
      `Mount ${mount.number} of ${specimen.name} stands on ${mount.rig}, but this run was logged on ${rig.name}. Choose a mount on ${rig.name}, open a new one there, or change the rig to ${mount.rig}.`,
      409,
    );
  }
  return { study_id: studyId, specimen_id: specimenId, mount_id: mount.id, rig_id: rigId };
}

async function openStudy(client: Client, place: RunPlace): Promise<number> {
  const title = (place.study_title ?? '').trim();
  const id = await insertNewStudy(client, { title });
  if (id === null) throw new Refusal(`There is already a study "${title}"; choose it from the list or enter another title.`, 409);
  return id;
}
