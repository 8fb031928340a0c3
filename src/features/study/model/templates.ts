import { list, plural } from '#core/text/words';
import type { SpecimenKind } from '#features/shelf/model/materials';
import { PLAN_DEFAULTS } from './planDefaults';
import type { StudyPlan } from './studyPlan';

export const TEMPLATE_KEYS = ['material', 'cooler', 'repair', 'ageing', 'change', 'clock'] as const;
export type TemplateKey = (typeof TEMPLATE_KEYS)[number];

/** What a template is told: what is compared, what matters, and the days (or for a clock, the steps that are tried). */
export interface TemplateAnswers {
  names: string[];
  /** smallest difference that matters, in the unit of the question */
  margin: number;
  /** bench days at hand, or days over which it is followed; null: as many as it takes */
  days: number | null;
  /** lowest and highest clock and their step, MHz; of the ladder alone */
  clocks?: { from: number; to: number; step: number } | null;
}

interface Template {
  /** the question as a person asks it */
  question: string;
  /** what it is good for, in one line */
  about: string;
  names: { label: string; hint: string; given: string[] };
  margin: { label: string; given: number };
  days: { label: string; hint: string; given: number | null };
  kind: SpecimenKind;
  plan: (answers: TemplateAnswers) => StudyPlan;
  /** what is taken where nothing was asked, a sentence each */
  defaults: (answers: TemplateAnswers) => string[];
}

const NAMES_HINT = 'one a line; those on the shelf are taken from there';
const BENCH_DAYS = { label: 'Bench days at hand', hint: 'Empty: as many as needed.', given: null };

/** Mounts of each that fit into the days there are: the usual number, or fewer, and never none. */
export function mountsFor({ names, days }: Pick<TemplateAnswers, 'names' | 'days'>, usual: number = PLAN_DEFAULTS.mounts): number {
  if (days === null) return usual;
  const { day_hours, mount_min, runs, run_min } = PLAN_DEFAULTS;
  const each = mount_min + runs * run_min;
  const perDay = Math.floor((60 * day_hours) / each);
  return Math.max(1, Math.min(usual, Math.floor((perDay * days) / Math.max(1, names.length))));
}

const repeats = (answers: TemplateAnswers): string => {
  const mounts = mountsFor(answers);
  const said = `${plural(mounts, 'mount')} of each with ${plural(PLAN_DEFAULTS.runs, 'run')}, in random order.`;
  if (mounts > 1) return said;
  return `${said} One mount each does not show how they repeat; plan more days, or fewer to compare.`;
};
const PAIRS = 'All pairs are judged, and all verdicts hold together at 95 %.';
const WINDOW = 'The value is the mean over the last 120 s of the load, once the slope test finds it steady, over the room at that moment.';

/** The questions a study can start from. */
export const TEMPLATES: Record<TemplateKey, Template> = {
  material: {
    question: 'Which material runs coolest?',
    about: 'Pastes, pads, sheets or metals on one rig, each mounted several times.',
    names: { label: 'Materials', hint: NAMES_HINT, given: [] },
    margin: { label: 'Smallest difference that matters / K', given: 1 },
    days: BENCH_DAYS,
    kind: 'paste',
    plan: (a) => ({ varies: 'material', mounts: mountsFor(a), days: a.days }),
    defaults: (a) => [repeats(a), WINDOW, PAIRS, 'Load and fan speed are kept constant.'],
  },
  cooler: {
    question: 'Which cooler is best?',
    about: 'Coolers at equal noise, on curves over the fan speed.',
    names: { label: 'Coolers', hint: NAMES_HINT, given: [] },
    margin: { label: 'Smallest difference that matters / K', given: 1 },
    days: BENCH_DAYS,
    kind: 'cooler',
    plan: (a) => ({ varies: 'cooler', fan_school: 'noise', mounts: mountsFor(a, 3), days: a.days }),
    defaults: (a) => [
      `${plural(mountsFor(a, 3), 'mount')} of each, with runs at several fan speeds.`,
      'They are compared at equal noise; at equal speed or temperature is one press away.',
      WINDOW,
      PAIRS,
    ],
  },
  repair: {
    question: 'Did the repair help?',
    about: 'One device before and after it was cleaned, repasted or changed; several devices too.',
    names: { label: 'States', hint: 'The state as found first.', given: ['As found', 'Renewed'] },
    margin: { label: 'Smallest difference that matters / K', given: 2 },
    days: BENCH_DAYS,
    kind: 'state',
    plan: (a) => ({ design: 'before_after', varies: 'state', mounts: mountsFor(a, 3), days: a.days }),
    defaults: (a) => [
      `The state as found is measured first, with ${plural(PLAN_DEFAULTS.runs, 'run')}; it cannot come back.`,
      `${plural(mountsFor(a, 3), 'mount')} afterwards, so that one lucky mount is not mistaken for the repair.`,
      'Clock, power and score are shown with the temperature: a device that throttled shows its gain there.',
    ],
  },
  ageing: {
    question: 'Does it last?',
    about: 'The same mounts measured again and again over weeks.',
    names: { label: 'Materials', hint: NAMES_HINT, given: [] },
    margin: { label: 'Smallest change that matters / K', given: 1 },
    days: { label: 'Followed for / days', hint: 'from the first run of each mount', given: 60 },
    kind: 'paste',
    plan: (a) => ({ varies: 'material', mounts: 4, ages: agesOver(a.days ?? 60).join(', ') }),
    defaults: (a) => [
      '4 mounts of each, which stay closed.',
      `Each is measured at ${list(agesOver(a.days ?? 60))} days.`,
      'A course is fitted to each mount; the change is given with its interval, never beyond the last day.',
    ],
  },
  change: {
    question: 'Is this change of the stack worth it?',
    about: 'A lapped lid, another torque, another amount: the present state against the changed one.',
    names: { label: 'What is compared', hint: 'The present state first.', given: ['As it is', 'Changed'] },
    margin: { label: 'Smallest gain that matters / K', given: 1 },
    days: BENCH_DAYS,
    kind: 'paste',
    plan: (a) => ({ varies: 'surface', family: 'reference', mounts: mountsFor(a), days: a.days }),
    defaults: (a) => [repeats(a), 'Each is judged against the first, as it is.', WINDOW],
  },
  clock: {
    question: 'How far does it clock?',
    about: 'A ladder of clocks, climbed on every mount; the highest that passes is compared.',
    names: { label: 'What is compared', hint: 'Materials, coolers or states, one per line.', given: [] },
    margin: { label: 'Smallest difference that matters / MHz', given: 50 },
    days: BENCH_DAYS,
    kind: 'paste',
    plan: (a) => ({
      ...{ varies: 'material', mounts: mountsFor(a), days: a.days },
      outcomes: [{ key: 'highest_clock', margin: a.margin }],
      loads: [{ name: 'Ladder', steps: [], ladder: clocksOf(a).map((clock_mhz) => ({ clock_mhz })), ladder_min: 5 }],
    }),
    defaults: (a) => [
      `${plural(mountsFor(a), 'mount')} of each, each climbed once: ${clocksOf(a).length} steps of ${a.clocks?.step ?? 50} MHz, 5 min each.`,
      'The highest passing clock is the outcome; the step enters as an error shared by all.',
      'No temperature is needed; one may be logged as well.',
    ],
  },
};

/** Ages at which a mount is measured over so many days: close together at first, as most happens then. */
export function agesOver(days: number): number[] {
  const ages = [0, days / 8, days / 4, days / 2, days].map((d) => Math.round(d));
  return [...new Set(ages)];
}

/** Clocks of the ladder, MHz, the lowest first. */
function clocksOf({ clocks }: TemplateAnswers): number[] {
  const { from, to, step } = clocks ?? { from: 2000, to: 2500, step: 50 };
  return Array.from({ length: Math.floor((to - from) / step) + 1 }, (_, i) => from + i * step).slice(0, 60);
}

/** Names as they were typed, one a line or parted by commas; each once. */
export const namesOf = (text: string): string[] => [
  ...new Set(
    text
      .split(/[\n;,]/)
      .map((n) => n.trim().slice(0, 80))
      .filter((n) => n !== ''),
  ),
];

/** A title for the study of a template, from what is compared. */
export function templateTitle(key: TemplateKey, names: string[]): string {
  const what = names.length === 0 ? '' : names.length <= 3 ? list(names) : `${names.slice(0, 2).join(', ')} and ${names.length - 2} others`;
  const of: Record<TemplateKey, string> = {
    ...{ material: what, cooler: what, repair: what ? `Before and after: ${what}` : '', ageing: what ? `${what} over time` : '' },
    ...{ change: what, clock: what ? `How far ${what} clock` : '' },
  };
  return (of[key] || TEMPLATES[key].question).slice(0, 110);
}
