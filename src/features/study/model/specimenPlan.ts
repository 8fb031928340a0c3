import { NumberField, TextField, YesNoField } from '#rules/fields';

/** What is planned and supposed of one specimen of a study. */
export class SpecimenPlan {
  @TextField('Set-up', 'Unit', 80, 'Serial number, where it is not the rig’s own.')
  unit?: string | null;

  @TextField('Set-up', 'Level of the first factor', 60)
  level_a?: string | null;

  @TextField('Set-up', 'Level of the second factor', 60)
  level_b?: string | null;

  @TextField('Set-up', 'Other differences', 200, 'Anything else that is not the same.')
  differs?: string | null;

  @NumberField('Expected', 'Expected ΔT', 'K', [-50, 500], 'Used by the rehearsal.')
  rise_k?: number | null;

  @NumberField('Expected', 'Mount scatter', 'K', [0, 100])
  mount_sd?: number | null;

  @NumberField('Expected', 'Expected resistance', 'K/W', [0.0001, 1000], 'Used by the headroom.')
  k_per_w?: number | null;

  @NumberField('Bench', 'Wait before the first run', 'h', [0, 2000], 'Conditioning or cure. Empty: as its sheet says.')
  wait_h?: number | null;

  @NumberField('Cost', 'Tools, once', '', [0, 1e6], 'What this one alone needs.')
  tools?: number | null;

  @NumberField('Cost', 'Effort, once', 'min', [0, 100_000], 'Taking apart, lapping, refitting.')
  effort_min?: number | null;

  @NumberField('Cost', 'Renewed every', 'months', [0.1, 600], 'In the cost over years. Empty: as its sheet says.')
  renew_months?: number | null;

  @YesNoField('Set-up', 'Cannot be mounted again', 'An aged state of one device: only its runs can be repeated.')
  fixed?: boolean | null;

  @YesNoField('Bench', 'Late in its day', 'Contaminating or permanent. Empty: as its sheet says.')
  last?: boolean | null;
}
