import type { StartState } from '#core/reduce/types';

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
  /** start state of the chosen mount's first run */
  first: StartState | null;
}
