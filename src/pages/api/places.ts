import type { APIRoute } from 'astro';
import { database } from '#db/pool';
import { listRigs } from '#db/rigs';
import { listMounts, listSpecimens, listStudies } from '#db/studies';
import { answer, json } from '#server/http';

/** Studies, specimens, mounts and rigs, for saying where a run belongs. */
export const GET: APIRoute = () =>
  answer(async () => {
    const db = database();
    const [studies, specimens, mounts, rigs] = await Promise.all([listStudies(db), listSpecimens(db), listMounts(db), listRigs(db)]);
    return json({
      studies: studies.map(({ id, title, reduction, margin_k }) => ({ id, title, reduction, margin_k })),
      specimens: specimens.map(({ id, study_id, name, kind }) => ({ id, study_id, name, kind })),
      mounts: mounts.map(({ id, specimen_id, rig_id, rig, number }) => ({ id, specimen_id, rig_id, rig, number })),
      rigs: rigs.map(({ id, name, throttle_limit_c }) => ({ id, name, throttle_limit_c })),
    });
  });
