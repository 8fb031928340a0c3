import type { ReduceOptions } from '#core/signal/reduce/types';
import type { Places } from '#features/run/server/places';

/** A moment as a date-and-time field of the browser takes it, to the minute, by the clock at the bench. */
export const localMinute = (at: Date): string => new Date(at.getTime() - 60_000 * at.getTimezoneOffset()).toISOString().slice(0, 16);
export const localNow = (): string => localMinute(new Date());

/** What the page says a dropped log most likely belongs to. */
export interface ImportContext {
  study_id?: number;
  specimen_id?: number;
  mount_id?: number;
  load?: string | null;
}

/** Choices about a run that are not about reading its files. */
export interface RunChoices extends Pick<ReduceOptions, 'sensor' | 'room_c' | 'room_u_k' | 'limit_c' | 'first'> {
  study_id: number | null;
  /** columns of the rig's parts */
  part_sensors?: string[];
  /** named load of the study that the run is of */
  load: string | null;
}

/** How a study has its runs of a load reduced; nothing where no study is chosen. */
export const reductionFor = (study: Places['studies'][number] | undefined, load: string | null): Partial<ReduceOptions> =>
  (load === null ? undefined : study?.reduction_by_load[load]) ?? study?.reduction ?? {};

/** Where a dropped file lay, with its folders where it came in one; `path` is what the drop target says of it. */
export const pathOf = (file: File & { path?: string }): string => (file.webkitRelativePath || file.path || file.name).replace(/^\.?\//, '');

/** Name of the first rig of a lab that has none. */
export const FIRST_RIG = 'Bench 1';

/** Studies that a run may be added to, as choices. */
export const studyChoices = (data: Places | null) => (data?.titles ?? []).filter((s) => !s.archived).map((s) => [s.id, s.title] as const);
