import { cautionsOf, MACHINE_CAUTIONS } from '#features/shelf/model/cautions';
import type { MaterialSheet } from '#features/shelf/model/sheets';
import type { MaterialKind, MountStep, StepKey } from './stepTypes';

/** What testers do to the machine itself, beside mounting a cooler. */
export const WORK = {
  teardown: 'Take the device apart',
  separating: 'Lift a cooler that was mounted',
  lid_off: 'Take the lid off',
  lapping: 'Lap a face',
  lid_refit: 'Refit the lid',
  direct_mount: 'Mount directly on the die',
  plate: 'Plate in place of pads',
} as const;
export type WorkKind = keyof typeof WORK;

/** How a lid comes off, and how it is fixed again. */
export const LID_METHODS = { shear: 'Shear', heat: 'Heat', both: 'Heat, then shear' } as const;
export const LID_FIXINGS = { loose: 'Loose, held by the cooler', glued: 'Glued' } as const;

interface WorkSetting {
  kind: MaterialKind;
  sheet: MaterialSheet;
  /** steps of the rig's take-apart list */
  teardown: number;
}

const step = (key: StepKey, what: string[], more: Partial<MountStep> = {}): MountStep => ({
  ...{ key, what, record: [], cautions: [], grave: false, timer_min: null },
  ...more,
});

/** Steps that work on the machine adds to those of the mount. */
export const workSteps = (work: WorkKind[], { kind, sheet, teardown }: WorkSetting): MountStep[] =>
  work.flatMap((w) => STEPS[w]({ kind, sheet, teardown }));

const STEPS: Record<WorkKind, (setting: WorkSetting) => MountStep[]> = {
  teardown: ({ teardown }) => [
    step(
      'take_apart',
      [
        teardown > 0
          ? 'One after the other, as the rig’s list says; tick each off.'
          : 'This rig has no take-apart list yet: write one down as you go.',
        'Screws by place and length; photograph what will not be remembered.',
      ],
      { record: ['minutes', 'note'], cautions: [MACHINE_CAUTIONS.warranty], grave: false },
    ),
    step('reassemble', ['The same list backwards: no screw left over, every connector in.'], { record: ['minutes', 'note'] }),
  ],
  separating: ({ kind, sheet }) => [
    step(
      'separate',
      [
        'Turn a little to and fro, then lift level; never lever against the die.',
        'Look for liquid metal that escaped: under the part, on the board, at the base. Collect it.',
        'No lint left behind; dam or seal refitted, or renewed.',
      ],
      {
        record: ['escaped', 'lint', 'seal'],
        cautions: kind === 'liquid_metal' ? cautionsOf(kind, sheet) : [MACHINE_CAUTIONS.liquid_metal],
        grave: kind === 'liquid_metal',
      },
    ),
  ],
  lid_off: () => [
    step('lid_off', ['By shear or by heat, straight and slowly; stop where it does not give.', 'Adhesive and old solder off both faces.'], {
      record: ['lid_method', 'temperature_c', 'minutes', 'residue'],
      cautions: [MACHINE_CAUTIONS.lid, MACHINE_CAUTIONS.oven, MACHINE_CAUTIONS.warranty],
      grave: true,
    }),
  ],
  lapping: () => [
    step(
      'lap',
      [
        'Figures of eight on a flat plate, finer with each pass; rinse between.',
        'After each pass: heights at the same points, and a look for cracks.',
      ],
      {
        record: ['abrasive', 'minutes', 'heights_after', 'cracks'],
        cautions: [MACHINE_CAUTIONS.lapping],
        grave: true,
      },
    ),
  ],
  lid_refit: () => [
    step(
      'lid_refit',
      [
        'Fresh material on the die, the lid in its old place and turn.',
        'Loose, or glued at its old feet; the adhesive must not hold it up.',
      ],
      {
        record: ['lid_fixing', 'adhesive_gap_um', 'note'],
        cautions: [MACHINE_CAUTIONS.clearance],
      },
    ),
  ],
  direct_mount: () => [
    step(
      'direct',
      [
        'What stands higher than the die? Nothing may touch the base before the die does.',
        'The hold-down of the lid comes off, or it presses where no lid is.',
      ],
      {
        record: ['higher', 'clearance_mm', 'hold_down', 'pressure_from'],
        cautions: [MACHINE_CAUTIONS.die],
        grave: true,
      },
    ),
  ],
  plate: () => [
    step(
      'plate',
      [
        'Heights of the neighbours first: the plate is as thick as the least gap, less its two films.',
        'Interface on both of its faces; it is pressed where the pads were.',
      ],
      {
        record: ['heights', 'insulation', 'pressed_at'],
        cautions: [MACHINE_CAUTIONS.plate],
        grave: true,
      },
    ),
  ],
};
