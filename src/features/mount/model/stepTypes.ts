import type { SpecimenKind } from '#features/shelf/model/materials';

export type MaterialKind = Exclude<SpecimenKind, 'cooler' | 'state'>;
/** What is covered: a lid, a bare die, or a row of parts such as memories beside it. */
export type PartKind = 'lid' | 'die' | 'row';

/** How the plan wants paste applied. */
export type AmountSchool = 'by_lid' | 'dot' | 'dots' | 'line' | 'cross' | 'spread' | 'film';

/** Steps in the order in which they are done. */
export const STEP_NAMES = {
  disconnect: 'Disconnect',
  take_apart: 'Take apart',
  separate: 'Separate',
  lid_off: 'Lid off',
  clean: 'Clean',
  inspect: 'Inspect',
  lap: 'Lap',
  measure: 'Measure',
  lid_refit: 'Refit the lid',
  direct: 'Direct mount',
  mask: 'Mask',
  prepare: 'Prepare',
  apply: 'Apply',
  plate: 'Plate',
  place: 'Place',
  tighten: 'Tighten',
  cure: 'Cure',
  reassemble: 'Put together',
  first_start: 'First start',
  condition: 'Condition',
} as const;
export type StepKey = keyof typeof STEP_NAMES;

/** What a step asks to be written down. */
export type RecordKey =
  | (
      | 'part_a_mg'
      | 'part_b_mg'
      | 'lot'
      | 'mass_before_mg'
      | 'mass_after_mg'
      | 'heights'
      | 'heights_after'
      | 'gaps'
      | 'held_off'
      | 'pattern'
      | 'torque_nm'
      | 'screws'
    )
  | ('room_c' | 'outcome' | 'cycles' | 'note' | 'minutes' | 'escaped' | 'lint' | 'seal' | 'lid_method' | 'temperature_c' | 'residue')
  | (
      | 'abrasive'
      | 'cracks'
      | 'lid_fixing'
      | 'adhesive_gap_um'
      | 'higher'
      | 'clearance_mm'
      | 'hold_down'
      | 'pressure_from'
      | 'insulation'
      | 'pressed_at'
    );

export interface MountStep {
  key: StepKey;
  /** what to do, one sentence a thing */
  what: string[];
  record: RecordKey[];
  /** said where the harm would happen */
  cautions: string[];
  /** true where a caution must be acknowledged before the step is done */
  grave: boolean;
  /** minutes that something waits or lasts here: pot life, cure, conditioning; null where nothing does */
  timer_min: number | null;
}
