import type { SpecimenKind } from '#features/shelf/model/materials';
import type { CoolerSheet, InstrumentSheet, MaterialSheet, RigSheet } from '#features/shelf/model/sheets';
import type { SpecimenPlan } from './specimenPlan';

/** A mount that was made or begun, as its plan counts it. */
export interface MadeMount {
  number: number;
  rig: string;
  /** true where it has a run */
  ran: boolean;
  /** false where it was left out or judged failed */
  standing: boolean;
}

/** A specimen of a study with what the shelf knows of it. */
export interface PlanSpecimen {
  id: number;
  name: string;
  kind: SpecimenKind;
  position: number;
  material: { id: number; name: string; sheet: MaterialSheet } | null;
  cooler: { id: number; name: string; sheet: CoolerSheet } | null;
  plan: SpecimenPlan;
  /** mounts made so far in this study, those left out not counted */
  made: number;
  /** every mount that was made or begun, by number */
  made_mounts: MadeMount[];
  /** further mounts that the stock allows; null where the sheet does not tell */
  stock_left: number | null;
  /** material for one mount; null where price or yield is unknown */
  cost: number | null;
  currency: string | null;
}

export interface PlanRig {
  id: number;
  name: string;
  sheet: RigSheet;
  cooler: { id: number; name: string; sheet: CoolerSheet } | null;
  instruments: { id: number; name: string; sheet: InstrumentSheet }[];
  /** lid-and-base coupons left for permanent bonds; null where the rig counts none */
  coupons_left: number | null;
  /** minutes to take it apart by its list; null where none are told */
  teardown_min?: number | null;
}

/** Scatter of one interface kind in this lab's own runs. */
export interface LabHistory {
  kind: SpecimenKind;
  mount_sd: number;
  run_sd: number;
  /** mounts it rests on, and the degrees of freedom of their scatter */
  mounts: number;
  df: number;
}

/** What a plan rests on besides its own fields. */
export interface PlanContext {
  specimens: PlanSpecimen[];
  /** rigs that can be chosen */
  rigs: PlanRig[];
  history: LabHistory[];
  /** calendar day at the bench */
  today: string;
}
