import type { Contact } from '#features/shelf/model/contacts';
import type { LeftOut } from './given';
import type { PressureClass } from './pressure';
import type { RankedMaterial } from './rankingAnswer';

/** What the shelf says of a ranked material, as far as it is filtered and priced by it. */
export interface MaterialFacts {
  material_id: number | null;
  kind: string;
  /** null where no sheet says it */
  conducts: boolean | null;
  permanent: boolean | null;
  /** money of one mount; null where it has no price */
  cost: number | null;
  currency: string | null;
  price_on: string | null;
  claimed_w_per_mk: number | null;
  /** after pressing, else the thickness of the sheet, µm */
  bond_line_um: number | null;
}

/** A material of the rail. */
export interface RailMaterial extends RankedMaterial, MaterialFacts {
  name: string;
  /** newest measurement, seconds since 1970; null where no log tells it */
  newest_s: number | null;
}

/** A set-up as it is told and changed. */
export interface ToldSetup {
  key: string;
  name: string;
  words: string;
  lab: string | null;
  is_said: boolean;
  power_w: number | null;
  area_mm2: number | null;
  contact: Contact | null;
  pressure: PressureClass | null;
  rig_id: number;
  rig: string;
  materials: number;
  mounts: number;
  /** true where it has two materials or more, one of them ranked */
  counts: boolean;
  left_out: LeftOut[];
  places: {
    key: string;
    study_id: number;
    study: string;
    rig: string;
    mounts: number;
  }[];
}

/** Which part of the network a set-up is: the materials it has. */
export interface EvidenceRow {
  setup: string;
  material: string;
  mean: number;
  variance: number;
  mounts: number;
}
