import { plural } from '#core/text/words';
import { cautionsOf } from '#features/shelf/model/cautions';
import type { CoolerSheet, MaterialSheet } from '#features/shelf/model/sheets';
import { mixWords, type PartAmount } from './amounts';
import type { StepStates } from './attempt';
import { type AmountSchool, type MaterialKind, type MountStep, type PartKind, STEP_NAMES, type StepKey } from './stepTypes';
import { type WorkKind, workSteps } from './work';

/** What a mount is made of, as far as its steps depend on it. */
export interface MountSetting {
  kind: MaterialKind;
  sheet: MaterialSheet;
  part: PartKind;
  /** neighbours that are masked, as the rig's sheet says; empty where none are */
  masked_neighbours: string;
  /** minutes of one run, which a conditioning cycle is taken to last */
  run_min: number;
  /** what is done to the machine itself in this try */
  work?: WorkKind[];
  /** steps of the rig's take-apart list */
  teardown?: number;
  /** how the plan wants paste applied, and neighbours of what conducts masked; as its material and part need where it says nothing */
  amount?: AmountSchool;
  masking?: MaskingSchool;
  /** what each part takes; empty where nothing is known */
  amounts?: PartAmount[];
  /** how the cooler is held down */
  hold?: CoolerSheet['hold'];
  /** number of the mount: a sheet that serves again is cut once */
  number?: number;
}

export type MaskingSchool = 'mask' | 'dam' | 'none';

const PATTERNS: Record<AmountSchool, string | null> = {
  by_lid: null,
  dot: 'one dot in the middle',
  dots: 'several dots in a grid',
  line: 'a line along the part',
  cross: 'a cross over the part',
  spread: 'spread to a film by hand',
  film: 'a full film to the edges',
};

const SHEETS: MaterialKind[] = ['pad', 'phase_change', 'graphite'];
const PARTS: Record<PartKind, string> = { lid: 'the lid', die: 'the die', row: 'each part of the row' };

/**
 * Steps of a mount, fitted to its material and part.
 * The steps of a mount in their order, each with when it is there.
 */
export function mountSteps(setting: MountSetting): MountStep[] {
  const { kind, sheet, part } = setting;
  const isSheet = SHEETS.includes(kind);
  const conducts = kind === 'liquid_metal' || kind === 'graphite' || sheet.conducts === true;
  const material = cautionsOf(kind, sheet);
  const step = (key: StepKey, what: string[], more: Partial<MountStep> = {}): MountStep => ({
    key,
    what,
    record: [],
    cautions: [],
    grave: false,
    timer_min: null,
    ...more,
  });
  const list: (MountStep | null)[] = [
    step('disconnect', ['Mains and battery off, then discharged. Strap on.'], {
      cautions: ['Disconnect mains and battery first, let it discharge, and avoid static. If the battery is swollen, stop.'],
      grave: true,
    }),
    step('clean', ['Old material off both faces, with strong isopropyl alcohol and a lint-free cloth. Let it dry.'], {
      cautions: ['Isopropyl alcohol is flammable: ventilate, no sparks, and let it dry before power is applied.'],
    }),
    step(
      'inspect',
      [`Look at ${PARTS[part]} and at the base: lint, scratches, corrosion, leftovers.`, 'Photograph both faces if anything is there.'],
      {
        record: ['note'],
      },
    ),
    part === 'row' || kind === 'pad' || kind === 'putty' || kind === 'phase_change'
      ? step(
          'measure',
          [part === 'row' ? 'Gap to each neighbour, and the thickness of each pad.' : 'Thickness of the sheet or the gap it has to fill.'],
          {
            record: ['heights'],
          },
        )
      : part === 'die'
        ? step('measure', ['Heights at the middle and the corners: a die is often higher in the middle.'], { record: ['heights'] })
        : null,
    conducts
      ? step('mask', [maskWords(kind, setting.masking ?? 'mask')], {
          record: ['note'],
          cautions: material.slice(0, 1),
          grave: kind === 'liquid_metal',
        })
      : null,
    prepareStep(setting, step, isSheet, material),
    step('apply', [...applyWords(kind, part, setting.amount ?? 'by_lid'), ...(isSheet ? [] : amountWords(setting))], {
      record: isSheet ? ['lot', 'note'] : ['lot', 'mass_before_mg', 'mass_after_mg', 'pattern'],
      cautions: kind === 'epoxy' || kind === 'solder' || kind === 'liquid_metal' ? material : conducts ? material.slice(0, 1) : [],
      grave: kind === 'liquid_metal' || kind === 'epoxy' || kind === 'solder' || sheet.permanent === true,
    }),
    step('place', [
      isAgain(setting)
        ? 'Straight down, without sliding. If lifted, check the sheet and lay it back: it can be used again.'
        : 'Straight down, without sliding. If lifted after first contact, clean and apply again.',
      ...(part === 'die' ? ['Hold it level: a tilted cooler chips the die.'] : []),
    ]),
    holdStep(setting.hold, step),
    cureStep(setting, step),
    step(
      'first_start',
      ['Start, and see that every part is there: memory, devices, fans. A start that fails is a result: write it down.'],
      {
        record: ['outcome', 'room_c'],
      },
    ),
    conditionStep(setting, step),
  ];
  const order = Object.keys(STEP_NAMES);
  return [...list.filter((s) => s !== null), ...workSteps(setting.work ?? [], { kind, sheet, teardown: setting.teardown ?? 0 })].sort(
    (a, b) => order.indexOf(a.key) - order.indexOf(b.key),
  );
}

/** Steps of a state as it was found: it is looked at and started, and nothing of it is opened. */
export const asFoundSteps = (): MountStep[] => [
  {
    ...{ key: 'inspect', grave: false, timer_min: null, record: ['note'] },
    what: [
      'Nothing is opened or cleaned: this state cannot come back.',
      'Look at it from outside and photograph it: dust, fans, screws, seals.',
    ],
    cautions: ['If the battery is swollen, stop.'],
  },
  {
    ...{ key: 'first_start', grave: false, timer_min: null, cautions: [], record: ['outcome', 'room_c'] },
    what: [
      'Start it as it is, and see that every part is there.',
      'All its runs are measured now, under each load, before anything is opened.',
    ],
  },
];

type Make = (key: StepKey, what: string[], more?: Partial<MountStep>) => MountStep;

function prepareStep(setting: MountSetting, step: Make, isSheet: boolean, material: string[]): MountStep | null {
  const { kind, sheet } = setting;
  if (kind === 'epoxy') {
    const mass = (setting.amounts ?? []).reduce<number | null>(
      (sum, a) => (a.tested && a.mass_mg !== null ? (sum ?? 0) + a.mass_mg : sum),
      null,
    );
    const both = mixWords(sheet.mixing_ratio, mass);
    return step(
      'prepare',
      [
        `Mix by ratio${sheet.mixing_ratio ? ` (${sheet.mixing_ratio})` : ''}, both parts weighed; the pot life begins now.`,
        ...(both ? [both] : []),
      ],
      {
        record: ['lot', 'part_a_mg', 'part_b_mg'],
        cautions: material,
        timer_min: sheet.pot_life_min ?? null,
      },
    );
  }
  if (kind === 'liquid_metal') return step('prepare', ['Discard the first drop of a fresh syringe.'], { cautions: material.slice(1) });
  if (kind === 'solder') return step('prepare', ['Flux both faces; cut the preform to the part.'], { cautions: material });
  if (isSheet && isAgain(setting) && (setting.number ?? 1) > 1)
    return step(
      'prepare',
      ['The same piece as before: look at both faces, without a crease or lint, and lay it back. Cut a new one where it is torn.'],
      {
        record: ['note'],
      },
    );
  if (isSheet)
    return step('prepare', ['Cut to the part, or with a small overlap; both liners off, no bubbles.', ...amountWords(setting)], {
      cautions: kind === 'graphite' ? material.slice(0, 1) : [],
    });
  return null;
}

function maskWords(kind: MaterialKind, masking: MaskingSchool): string {
  if (masking === 'none')
    return 'The plan sets no masking: check twice that nothing bare is within reach, and record that it was left open.';
  if (masking === 'dam') return 'Lay the dam around the part, as the plan says, so that nothing can run beyond it.';
  return kind === 'liquid_metal'
    ? 'Coat or tape every neighbour that could be reached; lay the dam.'
    : 'Insulate bare neighbours around the part.';
}

function applyWords(kind: MaterialKind, part: PartKind, amount: AmountSchool): string[] {
  const where = PARTS[part];
  const pattern = PATTERNS[amount];
  switch (kind) {
    case 'liquid_metal':
      return [`A thin wetted film on ${where} and on the base: both faces, never a bead.`];
    case 'paste':
      if (pattern) return [`As the plan says, ${pattern}, in the amount of the dose; record any difference.`];
      return [part === 'lid' ? 'The amount and pattern of the dose, from its middle.' : `A closed film over ${where}: no dry corner.`];
    case 'putty':
      return [`A mound on ${where}, a little higher than its gap.`];
    case 'epoxy':
      return [
        `Rub a trace of it into ${where} and into the base first, so that both faces are wetted.`,
        `Then a thin film on ${where}, within the pot life, onto the right coupon.`,
      ];
    case 'solder':
      return [`The preform on ${where}, heated as its data sheet says.`];
    default:
      return [`The sheet on ${where}, pressed from the middle outwards.`];
  }
}

/** A sheet that serves several mounts. */
const isAgain = ({ kind, sheet }: MountSetting): boolean => SHEETS.includes(kind) && sheet.reusable === true;

/** What each part takes, a sentence a part. */
const amountWords = ({ amounts = [] }: MountSetting): string[] =>
  amounts
    .map((a) => `${a.part ? `${a.part}: ` : ''}${a.tested ? '' : `${a.material}, `}${a.words}.`)
    .map((s) => s.charAt(0).toUpperCase() + s.slice(1));

function holdStep(hold: CoolerSheet['hold'], step: Make): MountStep {
  if (hold === 'clip')
    return step('tighten', ['Close the clip evenly: both ends seated before it snaps over, with the base level throughout.'], {
      record: ['hold_down', 'note'],
    });
  if (hold === 'bond')
    return step('tighten', ['Nothing is screwed: press it straight, and weigh it down until it has cured.'], {
      record: ['hold_down', 'note'],
    });
  return step('tighten', ['Crosswise, in rounds, to the torque of the rig.'], { record: ['torque_nm', 'screws'] });
}

/** What bonds is left alone until it has cured; only then is it started. */
function cureStep({ kind, sheet }: MountSetting, step: Make): MountStep | null {
  if (kind !== 'epoxy') return null;
  return step('cure', ['Let it cure, undisturbed and weighed down, as its data sheet says. Nothing is started before.'], {
    record: ['note'],
    timer_min: sheet.conditioning_h == null ? null : Math.round(60 * sheet.conditioning_h),
  });
}

function conditionStep({ kind, sheet, run_min }: MountSetting, step: Make): MountStep | null {
  // it has cured before its first start
  if (kind === 'epoxy') return null;
  const cycles = sheet.conditioning_cycles ?? 0;
  const hours = sheet.conditioning_h ?? (cycles * run_min) / 60;
  if (hours <= 0) {
    // a material that is known to change asks, even where its sheet is silent
    if (kind === 'phase_change')
      return step('condition', ['Heat and cool it several times: a sheet is at its best after some cycles.'], { record: ['cycles'] });
    return null;
  }
  const words = cycles > 0 ? `${plural(cycles, 'cycle')} of heating and cooling.` : 'Let it settle under load.';
  return step('condition', [words], { record: cycles > 0 ? ['cycles'] : ['note'], timer_min: Math.round(60 * hours) });
}

/** True where every caution of a step was acknowledged, at it or at an earlier one: each is asked for once. */
export function isAcknowledged(step: MountStep, steps: MountStep[], states: StepStates): boolean {
  const read = new Set(steps.filter((s) => s.grave && states[s.key]?.acknowledged_at).flatMap((s) => s.cautions));
  return step.cautions.every((c) => read.has(c));
}

/** A reason not to go on unless it is written down why. */
export interface HardStop {
  code: 'aluminium_attacked' | 'conducting_oversize' | 'permanent_early';
  step: StepKey;
  message: string;
}

export interface StopSetting extends MountSetting {
  material: string;
  contact_material: string | null;
  base_material: string | null;
  contact: { length_mm: number; width_mm: number } | null;
  /** true where mounts of other specimens are still planned on this part */
  others_follow: boolean;
}

/** Hard stops of a mount: what would do harm that cannot be undone. */
export function hardStops({
  kind,
  sheet,
  material,
  contact_material,
  base_material,
  contact,
  masked_neighbours,
  others_follow,
}: StopSetting): HardStop[] {
  const stops: HardStop[] = [];
  const attacks = sheet.aluminium_safe === false || (kind === 'liquid_metal' && sheet.aluminium_safe !== true);
  for (const [part, metal] of [
    ['the contact', contact_material],
    ['the base', base_material],
  ] as const) {
    if (attacks && metal === 'aluminium') {
      stops.push({
        code: 'aluminium_attacked',
        step: 'apply',
        message: `${material} destroys aluminium, and ${part} is made of aluminium: copper or nickel-plated copper only.`,
      });
    }
  }
  const conducts = kind === 'graphite' || sheet.conducts === true;
  const { cut_length_mm: l, cut_width_mm: w } = sheet;
  const larger = contact && l != null && w != null && !fits({ l, w }, { l: contact.length_mm, w: contact.width_mm });
  if (kind !== 'liquid_metal' && conducts && larger && masked_neighbours.trim() === '') {
    stops.push({
      code: 'conducting_oversize',
      step: 'place',
      message: `The sheet of ${material} (${l} × ${w} mm) is larger than the part (${contact.length_mm} × ${contact.width_mm} mm), conducts, and no neighbour is masked.`,
    });
  }
  if (sheet.permanent && others_follow) {
    stops.push({
      code: 'permanent_early',
      step: 'apply',
      message: `${material} is permanent, and other mounts are still planned on this part: they could no longer be made.`,
    });
  }
  return stops;
}

/** One rectangle lies within another, turned or not. */
const fits = (a: { l: number; w: number }, b: { l: number; w: number }): boolean =>
  (a.l <= b.l && a.w <= b.w) || (a.l <= b.w && a.w <= b.l);
