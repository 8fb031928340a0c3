import type { ReduceOptions, StartState } from '#core/signal/reduce/types';
import type { Places } from '#features/run/server/places';

/** What the page says a dropped log most likely belongs to. */
export interface ImportContext {
  study_id?: number;
  specimen_id?: number;
  mount_id?: number;
}

/** Choices about a run that are not about reading its files. */
export interface RunChoices {
  sensor: string | null;
  room_c: number | null;
  /** standard uncertainty of the typed room, K */
  room_u_k: number | null;
  limit_c: number | null;
  study_id: number | null;
  /** named load of the study that the run is of */
  load: string | null;
  /** start state of the chosen mount's first run */
  first: StartState | null;
}

/** How a study has its runs of a load reduced; nothing where no study is chosen. */
export const reductionFor = (study: Places['studies'][number] | undefined, load: string | null): Partial<ReduceOptions> =>
  (load === null ? undefined : study?.reduction_by_load[load]) ?? study?.reduction ?? {};
