import type { Contact } from '#features/shelf/model/contacts';
import type { LabHistory } from '#features/study/model/context';
import type { PressureClass } from './pressure';

/** A mount as the ranking takes it. */
export interface GivenMount {
  mount_id: number;
  /** sheet of the shelf, as "m12", or the name where it has none, as "n:loam white" */
  material: string;
  name: string;
  kind: string;
  /** as it was noted at the mount; empty where it was not */
  lot: string;
  /** resistance from sensor to room, K/W, the mean of its runs that stand */
  k_per_w: number;
  /** seconds since 1970; null where no log tells it */
  at_s: number | null;
}

/** Mounts that are not ranked, with why. */
export interface LeftOut {
  name: string;
  mounts: number;
  why: string;
}

/** What one study says on one rig under one load. */
export interface GivenPlace {
  /** study/rig/cooler/load */
  key: string;
  study_id: number;
  study: string;
  rig_id: number;
  rig: string;
  /** what it heats and presses on */
  part: string;
  contact: Contact | null;
  area_mm2: number | null;
  /** why there is no area; empty where there is one */
  area_problem: string;
  cooler_id: number | null;
  cooler: string | null;
  /** named loads are told apart within a study; null where it has one alone */
  load: string | null;
  /** median of its runs, W; null where none logged it */
  power_w: number | null;
  pressure: PressureClass | null;
  mounts: GivenMount[];
  left_out: LeftOut[];
}

/** What a study gives to the ranking. */
export interface StudyGiven {
  study_id: number;
  study: string;
  reference: string | null;
  /** lab that measured it, where that is another; empty where that has no name; null for this lab's own */
  lab: string | null;
  /** scatter of that lab */
  lab_scatter: LabHistory[];
  places: GivenPlace[];
  /** why nothing of it is ranked; empty where something is, or there is nothing yet */
  not_ranked: string;
}
