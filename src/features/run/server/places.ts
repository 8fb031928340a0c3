import { database } from '#app/database/pool';
import { typedAsked } from '#features/run/model/typedAsked';
import { listFirstStarts, listReferenceLevels } from '#features/run/store/runs';
import { sensorsOf } from '#features/shelf/model/partSensors';
import { listRigParts, listRigs } from '#features/shelf/store/rigs';
import { listWorkedStudies } from '#features/shelf/store/uses';
import { answersOf } from '#features/study/server/keptAnswers';
import { getStudy, listMounts, listNewestStudies, listSpecimens, listTitles, type StudyRow } from '#features/study/store/studies';
import { reductionUnder } from './studyReduction';

/** Studies that are told in full, of the newest and of those last worked on each. */
const MOST_STUDIES = 25;

/**
 * Studies with their specimens and mounts, and the rigs, for saying where a run belongs: the newer ones and those asked for in full, all others
 * by their titles.
 */
export async function listPlaces(asked: number[] = []) {
  const db = database();
  const [newest, worked, titles, rigs, parts] = await Promise.all([
    listNewestStudies(db, MOST_STUDIES),
    listWorkedStudies(db, MOST_STUDIES),
    listTitles(db),
    listRigs(db),
    listRigParts(db),
  ]);
  const ids = [...new Set([...newest, ...worked, ...asked])].sort((a, b) => a - b);
  const known = await answersOf('places', ids, placesOf);
  const places = ids.flatMap((id) => known.get(id) ?? []);
  return {
    studies: places.map((p) => p.study),
    specimens: places.flatMap((p) => p.specimens),
    mounts: places.flatMap((p) => p.mounts),
    rigs: rigs
      .filter((r) => !r.archived)
      .map(({ id, name, throttle_limit_c }) => ({
        ...{ id, name, throttle_limit_c },
        part_sensors: (parts.get(id) ?? []).flatMap(sensorsOf),
      })),
    /** of all studies; those in use can be chosen */
    titles,
  };
}
export type Places = Awaited<ReturnType<typeof listPlaces>>;

/** One study with its specimens and mounts; none where it is gone. */
async function placesOf(id: number) {
  const db = database();
  const study = await getStudy(db, id);
  if (!study) return [];
  const [specimens, mounts, starts, levels] = await Promise.all([
    listSpecimens(db, id),
    listMounts(db, id),
    listFirstStarts(db, id),
    listReferenceLevels(db, id),
  ]);
  return [
    {
      study: studyPlace(study, levels),
      specimens: specimens.map(({ id, study_id, name, kind }) => ({ id, study_id, name, kind })),
      mounts: mounts.map(({ id, specimen_id, rig_id, rig, number, made_at, runs }) => ({
        ...{ id, specimen_id, rig_id, rig, number, runs, first: starts.get(id) ?? null },
        made: made_at.getTime(),
      })),
    },
  ];
}

const studyPlace = (study: StudyRow, levels: Awaited<ReturnType<typeof listReferenceLevels>>) => ({
  ...{ id: study.id, title: study.title, margin_k: study.margin_k, reduction: reductionUnder(study, null, levels) },
  typed: typedAsked(study.plan),
  loads: (study.plan.loads ?? []).map((l) => l.name),
  reduction_by_load: Object.fromEntries((study.plan.loads ?? []).map((l) => [l.name, reductionUnder(study, l.name, levels)])),
});
