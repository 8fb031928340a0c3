import { NumberField, TextField, YesNoField } from '#rules/fields';

/** What is planned and supposed of one specimen of a study. */
export class SpecimenPlan {
  @TextField({ label: 'Unit', group: 'Set-up', most: 80, hint: 'serial number, where it is not the rig’s own' })
  unit?: string | null;

  @TextField({ label: 'Level of the first factor', group: 'Set-up', most: 60 })
  level_a?: string | null;

  @TextField({ label: 'Level of the second factor', group: 'Set-up', most: 60 })
  level_b?: string | null;

  @TextField({ label: 'Differs besides in', group: 'Set-up', most: 200, hint: 'anything else that is not alike' })
  differs?: string | null;

  @NumberField({ label: 'Supposed rise', unit: 'K', group: 'Supposed', min: -50, max: 500, hint: 'for the rehearsal' })
  rise_k?: number | null;

  @NumberField({ label: 'Mount scatter', unit: 'K', group: 'Supposed', min: 0, max: 100 })
  mount_sd?: number | null;

  @NumberField({ label: 'Expected resistance', unit: 'K/W', group: 'Supposed', min: 0.0001, max: 1000, hint: 'for the headroom' })
  k_per_w?: number | null;

  @NumberField({
    label: 'Wait before the first run',
    unit: 'h',
    group: 'Bench',
    min: 0,
    max: 2000,
    hint: 'conditioning or cure; the sheet’s where empty',
  })
  wait_h?: number | null;

  @NumberField({ label: 'Tools, once', group: 'Cost', min: 0, max: 1e6, hint: 'what this state alone needs' })
  tools?: number | null;

  @NumberField({ label: 'Effort, once', unit: 'min', group: 'Cost', min: 0, max: 100_000, hint: 'taking apart, lapping, refitting' })
  effort_min?: number | null;

  @YesNoField({ label: 'Cannot be mounted again', group: 'Set-up', hint: 'an aged state of one device: it carries run error only' })
  fixed?: boolean | null;

  @YesNoField({ label: 'Late in its day', group: 'Bench', hint: 'contaminating or permanent; the sheet’s where not said' })
  last?: boolean | null;
}
