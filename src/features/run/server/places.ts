import { database } from '#app/database/pool';
import { typedAsked } from '#features/run/model/typedAsked';
import { listFirstStarts, listReferenceLevels } from '#features/run/store/runs';
import { sensorsOf } from '#features/shelf/model/partSensors';
import { listRigParts, listRigs } from '#features/shelf/store/rigs';
import { listMounts, listSpecimens, listStudies } from '#features/study/store/studies';
import { reductionUnder } from './studyReduction';

/** Studies, specimens, mounts and rigs, for saying where a run belongs. */
export async function listPlaces() {
  const db = database();
  const [studies, specimens, mounts, rigs, starts] = await Promise.all([
    listStudies(db),
    listSpecimens(db),
    listMounts(db),
    listRigs(db),
    listFirstStarts(db),
  ]);
  const [levels, parts] = await Promise.all([listReferenceLevels(db), listRigParts(db)]);
  return {
    studies: studies.map((study) => ({
      ...{ id: study.id, title: study.title, margin_k: study.margin_k, reduction: reductionUnder(study, null, levels) },
      typed: typedAsked(study.plan),
      loads: (study.plan.loads ?? []).map((l) => l.name),
      reduction_by_load: Object.fromEntries((study.plan.loads ?? []).map((l) => [l.name, reductionUnder(study, l.name, levels)])),
    })),
    specimens: specimens.map(({ id, study_id, name, kind }) => ({ id, study_id, name, kind })),
    mounts: mounts.map(({ id, specimen_id, rig_id, rig, number, made_at, runs }) => ({
      ...{ id, specimen_id, rig_id, rig, number, runs, first: starts.get(id) ?? null },
      made: made_at.getTime(),
    })),
    rigs: rigs
      .filter((r) => !r.archived)
      .map(({ id, name, throttle_limit_c }) => ({
        ...{ id, name, throttle_limit_c },
        part_sensors: (parts.get(id) ?? []).flatMap(sensorsOf),
      })),
  };
}
export type Places = Awaited<ReturnType<typeof listPlaces>>;
