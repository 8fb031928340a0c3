import { database } from '#app/database/pool';
import { mean, standardDeviation } from '#core/stats/moments';
import { listRunValues, type RunValueRow } from '#features/run/store/runs';
import { answersOf } from '#features/study/server/keptAnswers';
import { getStudy, listNewestStudies } from '#features/study/store/studies';
import { MOST_STUDIES } from '#features/tools/model/studyStack';

/** Resistance from the part to the room as a study measured it. */
export interface MeasuredWhole {
  study_id: number;
  study: string;
  specimen: string;
  k_per_w: number;
  /** standard error from the mounts; null with one mount */
  se: number | null;
  mounts: number;
  /** mean power, W; null where none was read */
  power_w: number | null;
}

/**
 * The resistance of every specimen of the newest studies, its mounts each counting once.
 * @param study looked at too, however old it is; null for none
 */
export async function measuredWholes(study: number | null = null): Promise<MeasuredWhole[]> {
  const newest = await listNewestStudies(database(), MOST_STUDIES);
  const ids = study === null || newest.includes(study) ? newest : [...newest, study];
  const wholes = await answersOf('wholes', ids, async (id) => {
    const row = await getStudy(database(), id);
    return row ? wholesOf(id, row.title, await listRunValues(database(), id)) : [];
  });
  return ids.sort((a, b) => a - b).flatMap((id) => wholes.get(id) ?? []);
}

/** Every specimen's resistance in one study, its mounts each counting once. */
export function wholesOf(study_id: number, study: string, values: RunValueRow[]): MeasuredWhole[] {
  const counted = values.filter((v) => v.r_valid && v.r_k_per_w !== null && v.excluded_reason === null && v.run_excluded_reason === null);
  return [...new Set(counted.map((v) => v.specimen))].map((specimen) => {
    const runs = counted.filter((v) => v.specimen === specimen);
    const mounts = [...new Set(runs.map((v) => v.mount_id))].map((id) =>
      mean(runs.filter((v) => v.mount_id === id).map((v) => v.r_k_per_w as number)),
    );
    const sd = mounts.length > 1 ? standardDeviation(mounts) : null;
    const powers = runs.flatMap((v) => v.power_w ?? []);
    return {
      ...{ study_id, study, specimen, k_per_w: mean(mounts), mounts: mounts.length },
      se: sd === null ? null : sd / Math.sqrt(mounts.length),
      power_w: powers.length === 0 ? null : mean(powers),
    };
  });
}
