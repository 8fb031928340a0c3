import { expectedExhaustRise } from '#core/compare/exhaust';
import type { OutcomeKey } from '#core/compare/outcomes';
import type { AnalysedPair } from '#core/compare/types';
import { mean } from '#core/stats/moments';
import { sentenceCase, write, writeSigned } from '#core/text/words';
import { rankSentences } from './bounds';
import { compareStudy, knownOutcomes, studyChoice } from './choice';
import { type DeviceTable, deviceTables } from './deviceChanges';
import type { ResultsChoice, RunFact, StudyFacts } from './facts';
import { biasWords } from './fanBias';
import { type MountFigure, mountFigures } from './figures';
import { isOfLadder, ladderLevel } from './ladders';

/** One outcome before and after. */
export interface OutcomeChange {
  outcome: OutcomeKey;
  before: { specimen: string; mean: number | null; at_or_above: number | null };
  after: { specimen: string; mean: number | null; at_or_above: number | null };
  /** after − before; null where one of them has no value */
  change: number | null;
  ci: [number, number] | null;
  pair: AnalysedPair | null;
  /** what is told where a mean and its interval cannot be */
  words: string | null;
}

export interface BeforeAfter {
  before: string;
  after: string;
  /** load it is told for; null or missing where the study has one */
  load?: string | null;
  /** device by device, where the change was made to several; under all loads, with the first of them */
  devices?: DeviceTable[];
  changes: OutcomeChange[];
  /** what the figures alone would hide, in sentences */
  notes: { code: 'throttled_before' | 'fan_differs' | 'exhaust'; message: string }[];
}

/** The outcomes that are told together, in this order. */
const TOGETHER: OutcomeKey[] = [
  'rise',
  'r_k_per_w',
  'limit_room',
  'power',
  'clock',
  'throttle_share',
  'fan_speed',
  'noise',
  'score',
  'run_time',
  'frame_rate',
  'slow_frame_rate',
  'frame_time',
  'fan_duty',
  'exhaust',
  'voltage',
  'highest_clock',
  'lowest_voltage',
  'time_to_event',
  'idle_rise',
  'spread',
];

/**
 * Each other state of a device against the reference, outcome by outcome, and what stands in the way of reading one alone:
 * a state that throttled, a fan that turns otherwise, air that leaves hotter.
 */
export function beforeAndAfter(facts: StudyFacts, own: ResultsChoice = studyChoice(facts)): BeforeAfter[] {
  const loads = facts.loads.length > 1 ? facts.loads : [own.load];
  return loads.flatMap((load, i) => statesUnder(facts, { ...own, load }, i === 0));
}

/** The states under one load, with the devices of all loads where that is asked for. */
function statesUnder(facts: StudyFacts, choice: ResultsChoice, withDevices: boolean): BeforeAfter[] {
  const before = facts.reference;
  if (before === null) return [];
  const event = choice.event ?? firstEvent(facts);
  const compared = TOGETHER.filter((o) => knownOutcomes(facts).includes(o)).map((outcome) => {
    const looked = { ...choice, outcome, event, at: isOfLadder(outcome) ? ladderLevel(facts, outcome) : null };
    return { outcome, figures: mountFigures(facts, looked), analysis: compareStudy(facts, looked) };
  });
  return facts.specimens
    .filter((s) => s.name !== before && facts.runs.some((r) => r.specimen === s.name))
    .map((s) => {
      const changes = compared.map(({ outcome, figures, analysis }): OutcomeChange => {
        const of = (name: string) => ({
          specimen: name,
          mean: analysis?.specimens.find((x) => x.specimen === name)?.mean ?? null,
          at_or_above: boundOf(figures.filter((m) => m.specimen === name)),
        });
        const pair = analysis?.pairs.find((p) => [p.a, p.b].includes(s.name) && [p.a, p.b].includes(before)) ?? null;
        const sign = pair?.a === s.name ? 1 : -1;
        const ci = (pair?.ci && (sign === 1 ? pair.ci : [-pair.ci[1], -pair.ci[0]])) as [number, number] | null;
        const words =
          !pair || pair.throttled.length > 0 ? (rankSentences({ outcome, event }, figures, [[before, s.name]])[0] ?? null) : null;
        return { outcome, before: of(before), after: of(s.name), change: pair ? sign * pair.difference : null, ci, pair, words };
      });
      const outcomes = compared.map((c) => c.outcome);
      const devices = withDevices ? deviceTables(facts, before, s.name, outcomes, { ...choice, event }) : [];
      const own = { ...facts, runs: facts.runs.filter((r) => choice.load === null || (r.load ?? facts.loads[0]) === choice.load) };
      return {
        ...{ before, after: s.name, changes, load: facts.loads.length > 1 ? choice.load : null },
        ...(devices.length > 0 ? { devices } : {}),
        notes: notesOf(own, before, s.name, changes),
      };
    });
}

const firstEvent = (facts: StudyFacts) => facts.runs.flatMap((r) => r.events.map((e) => e.event))[0] ?? null;

/** Highest lower bound of a specimen that has no mount with a value. */
function boundOf(mounts: MountFigure[]): number | null {
  if (mounts.some((m) => m.value !== null)) return null;
  const bounds = mounts.flatMap((m) => m.at_or_above ?? []);
  return bounds.length === 0 ? null : Math.max(...bounds);
}

function notesOf(facts: StudyFacts, before: string, after: string, changes: OutcomeChange[]): BeforeAfter['notes'] {
  const found = (key: OutcomeKey) => changes.find((c) => c.outcome === key);
  const notes: BeforeAfter['notes'] = [];
  const rise = found('rise');
  const resistance = found('r_k_per_w');
  if (rise && rise.before.at_or_above !== null)
    notes.push({ code: 'throttled_before', message: throttledSentence(facts, before, after, rise, resistance, found) });
  const fan = found('fan_speed');
  if (fan?.before.mean && fan.after.mean && Math.abs(fan.after.mean - fan.before.mean) > Math.max(20, 0.02 * fan.before.mean)) {
    notes.push({
      code: 'fan_differs',
      message: `The fan turned at ${write(fan.before.mean, 0)} rpm before and ${write(fan.after.mean, 0)} rpm after: not comparable.${rise?.change == null ? '' : ` ${sentenceCase(biasWords(-rise.change, fan.after.mean > fan.before.mean))}.`} Read temperature, fan speed and noise together, or repeat at a fixed fan speed.`,
    });
  }
  const exhaust = exhaustNote(facts.runs, before, after);
  if (exhaust) notes.push({ code: 'exhaust', message: exhaust });
  return notes;
}

function throttledSentence(
  facts: StudyFacts,
  before: string,
  after: string,
  rise: OutcomeChange,
  resistance: OutcomeChange | undefined,
  found: (key: OutcomeKey) => OutcomeChange | undefined,
): string {
  const power = meanOf(facts.runs, after, (r) => r.power_w);
  const bound = rise.before.at_or_above ?? 0;
  const shown = rise.after.mean === null ? null : bound - rise.after.mean;
  const atPower = resistance?.change != null && power !== null ? -resistance.change * power : null;
  const share = found('throttle_share')?.before.mean;
  const clock = found('clock');
  const parts = [
    `${before} throttled${share ? (share >= 99.5 ? ' all the time' : ` for ${write(share, 0)} % of the time`) : ''}: the part limited its own temperature, so ${write(bound, 1)} K is a lower bound, and the temperature alone understates the gain.`,
    ...(shown !== null && atPower !== null && power !== null
      ? [
          `The sensor shows ${write(shown, 1)} K less; at the ${write(power, 0)} W that ${after} runs at, the K/W say ${write(atPower, 1)} K.`,
        ]
      : []),
    ...(clock?.change != null ? [`The clock ${clock.change > 0 ? 'came back' : 'fell'} by ${write(Math.abs(clock.change), 0)} MHz.`] : []),
    'Compare by K/W, clock, score and throttled share.',
  ];
  return parts.join(' ');
}

/** What the air that leaves says and what it does not, with the difference that power and fan speed alone let expect. */
function exhaustNote(runs: RunFact[], before: string, after: string): string | null {
  const of = (name: string) => {
    const [rise_k, power_w, fan_rpm] = [
      meanOf(runs, name, (r) => r.exhaust_rise_k),
      meanOf(runs, name, (r) => r.power_w),
      meanOf(runs, name, (r) => r.values.fan_speed ?? null),
    ];
    return rise_k === null || power_w === null || fan_rpm === null ? null : { rise_k, power_w, fan_rpm };
  };
  const [was, is] = [of(before), of(after)];
  const expected = was && is && expectedExhaustRise(was, is);
  if (!was || !is || expected === null) return null;
  const hotter = is.rise_k > was.rise_k ? 'hotter' : 'cooler';
  const rest = is.rise_k - expected;
  const air =
    Math.abs(rest) < 1
      ? ''
      : ` The other ${writeSigned(rest, 1)} K say that ${rest < 0 ? 'more' : 'less'} air went through than the fan speed suggests.`;
  return `The exhaust air was ${write(Math.abs(is.rise_k - was.rise_k), 1)} K ${hotter} after (${write(was.rise_k, 1)} K over the room before, ${write(is.rise_k, 1)} K after). From ${write(was.power_w, 0)} to ${write(is.power_w, 0)} W and ${write(was.fan_rpm, 0)} to ${write(is.fan_rpm, 0)} rpm alone ${writeSigned(expected - was.rise_k, 1)} K are to be expected, as the air carries the power and goes with the fan.${air} Hotter exhaust at equal power means less air, not a better or worse interface.`;
}

function meanOf(runs: RunFact[], specimen: string, value: (r: RunFact) => number | null): number | null {
  const known = runs.flatMap((r) => (r.specimen === specimen && r.mount_reason === null && r.run_reason === null ? (value(r) ?? []) : []));
  return known.length === 0 ? null : mean(known);
}
