import { NumberField, TextField, YesNoField } from '#rules/fields';

/** What is planned and supposed of one specimen of a study. */
export class SpecimenPlan {
  @TextField('Set-up', 'Unit', 80, 'serial number, where it is not the rig’s own')
  unit?: string | null;

  @TextField('Set-up', 'Level of the first factor', 60)
  level_a?: string | null;

  @TextField('Set-up', 'Level of the second factor', 60)
  level_b?: string | null;

  @TextField('Set-up', 'Other differences', 200, 'anything else that is not alike')
  differs?: string | null;

  @NumberField('Supposed', 'Expected ΔT', 'K', [-50, 500], 'for the rehearsal')
  rise_k?: number | null;

  @NumberField('Supposed', 'Mount scatter', 'K', [0, 100])
  mount_sd?: number | null;

  @NumberField('Supposed', 'Expected resistance', 'K/W', [0.0001, 1000], 'for the headroom')
  k_per_w?: number | null;

  @NumberField('Bench', 'Wait before the first run', 'h', [0, 2000], 'conditioning or cure; the sheet’s where empty')
  wait_h?: number | null;

  @NumberField('Cost', 'Tools, once', '', [0, 1e6], 'what this state alone needs')
  tools?: number | null;

  @NumberField('Cost', 'Effort, once', 'min', [0, 100_000], 'taking apart, lapping, refitting')
  effort_min?: number | null;

  @NumberField('Cost', 'Renewed every', 'months', [0.1, 600], 'in the cost over years; the sheet’s where empty')
  renew_months?: number | null;

  @YesNoField('Set-up', 'Cannot be mounted again', 'an aged state of one device: it carries run error only')
  fixed?: boolean | null;

  @YesNoField('Bench', 'Late in its day', 'contaminating or permanent; the sheet’s where not said')
  last?: boolean | null;
}
