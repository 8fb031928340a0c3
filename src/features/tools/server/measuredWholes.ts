import { database } from '#app/database/pool';
import { mean, standardDeviation } from '#core/stats/moments';
import { listRunValues, type RunValueRow } from '#features/run/store/runs';
import { listStudies } from '#features/study/store/studies';

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

/** Every specimen's resistance over all studies, its mounts each counting once. */
export async function measuredWholes(): Promise<MeasuredWhole[]> {
  const db = database();
  const [studies, values] = await Promise.all([listStudies(db), listRunValues(db)]);
  return studies.flatMap((s) =>
    wholesOf(
      s.id,
      s.title,
      values.filter((v) => v.study_id === s.id),
    ),
  );
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
