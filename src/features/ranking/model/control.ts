import { type ControlChart, controlChart } from '#core/compare/controlChart';
import { stepsOf } from '#core/compare/steps';
import { tQuantile } from '#core/stats/distributions/t';
import { mean, standardDeviation } from '#core/stats/moments';
import { list, plural, write, writeSigned } from '#core/text/words';
import { calendarDay } from '#core/units/calendarDay';

const DAY_S = 86_400;
/** Days before and after a step within which an edit of the shelf is told beside it. */
const NEAR_DAYS = 21;
/** From so many mounts on the limits of a chart are worth their name. */
const FEW = 8;
/** The newest mounts that are charted. */
const MOST = 100;
/** Days of mounts outside their band that are told one by one. */
const MOST_TOLD = 3;

export interface ControlPoint {
  at_s: number;
  /** area-scaled resistance, mm²·K/W */
  value: number;
  mount_id: number;
  study: string;
}

/** What happened at a rig, to be laid beside its steps. */
export interface RigEvent {
  at_s: number;
  words: string;
  kind: 'calibration' | 'edit';
}

/** The reference on one set-up over the years. */
export interface SetupControl {
  setup: string;
  name: string;
  points: ControlPoint[];
  /** of the mounts since the last step, or before it where these are too few */
  chart: ControlChart;
  /** first mount that the chart's limits are from */
  since_s: number;
  steps: { at_s: number; before: number; after: number; p: number; beside: RigEvent[] }[];
  events: RigEvent[];
  /** what the chart says */
  sentence: string;
  /** the newest mount left its band */
  left: boolean;
  /** whether the bench reads as it did; 'settled': at another level than it once had, for long enough to be called steady */
  standing: 'steady' | 'settled' | 'moved';
}

/** Days after which a finding is history of its chart and no news of the bench. */
const NEWS_DAYS = 30;

/** Whether a chart has something to say of the bench as it is now: its newest mount is of these days, and so is what was found. */
export function isNews({ points, left, steps }: Pick<SetupControl, 'points' | 'left' | 'steps'>, now_s: number): boolean {
  const fresh = (at_s: number | undefined) => at_s !== undefined && now_s - at_s <= NEWS_DAYS * DAY_S;
  return fresh(points.at(-1)?.at_s) && (left || fresh(steps.at(-1)?.at_s));
}

/** What a chart is made from. */
export interface ControlQuestion {
  setup: { key: string; name: string };
  points: ControlPoint[];
  events: RigEvent[];
}

/** The chart of a reference on one set-up; null with fewer than two mounts. */
export function setupControl({ setup, points: all, events }: ControlQuestion): SetupControl | null {
  const points = [...all].sort((a, b) => a.at_s - b.at_s).slice(-MOST);
  if (points.length < 2) return null;
  const steps = stepsOf(points.map((p) => p.value));
  const last = steps.at(-1)?.at ?? 0;
  // the newest is judged by those before it
  const earlier = points.slice(last, -1).length >= 2 ? points.slice(last, -1) : points.slice(last);
  const chart = controlChart(earlier.map((p) => ({ t: p.at_s / DAY_S, value: p.value })));
  if (!chart) return null;
  const newest = points[points.length - 1];
  const left =
    (newest.value < chart.lower || newest.value > chart.upper) &&
    isUnlikely(
      newest.value,
      earlier.map((p) => p.value),
    );
  const near = (at: number) =>
    events.filter((e) => e.at_s < points[at].at_s + NEAR_DAYS * DAY_S && e.at_s > points[at - 1].at_s - NEAR_DAYS * DAY_S);
  const told = steps.map(({ at, before, after, p }) => ({ at_s: points[at].at_s, before, after, p, beside: near(at) }));
  const level = points.slice(last);
  const control: Omit<SetupControl, 'sentence'> = {
    ...{ setup: setup.key, name: setup.name, points, chart, since_s: points[last].at_s, steps: told, events, left },
    standing: left || (steps.length > 0 && level.length < FEW) ? 'moved' : steps.length > 0 ? 'settled' : 'steady',
  };
  return { ...control, sentence: [...told.map(stepWords), levelWords(control, level)].join(' ') };
}

/** Limits of few mounts are too narrow too often: a value has to lie outside what one in a hundred would by Student's t as well. */
function isUnlikely(value: number, earlier: number[]): boolean {
  const n = earlier.length;
  if (n < 2) return false;
  const half = tQuantile(0.995, n - 1) * standardDeviation(earlier) * Math.sqrt(1 + 1 / n);
  return Math.abs(value - mean(earlier)) > half;
}

const day = (at_s: number): string => calendarDay(at_s, false);

function stepWords({ before, after, at_s, beside }: SetupControl['steps'][number]): string {
  const near = beside.length > 0 ? `near then: ${beside.map((e) => e.words).join('; ')}` : 'no edit of the shelf stands beside it';
  return `The level stepped by ${writeSigned(after - before, 1)} mm²·K/W on ${day(at_s)}; ${near}.`;
}

/** What the mounts of the level it has now say. */
function levelWords({ chart, left, standing, steps }: Omit<SetupControl, 'sentence'>, level: ControlPoint[]): string {
  const newest = level[level.length - 1];
  if (left)
    return `The newest mount, ${write(newest.value, 1)}, left its band of ${write(chart.lower, 1)} to ${write(chart.upper, 1)} mm²·K/W: check rig, instruments and mount before the next study.`;
  if (standing === 'moved') return `Since then ${plural(level.length, 'mount')}: too few to call that level steady.`;
  const outside = level.filter((p) => p.value < chart.lower || p.value > chart.upper);
  const inside = outside.length === 0 ? plural(level.length, 'mount') : `${level.length - outside.length} of ${level.length} mounts`;
  const days = list(outside.slice(-MOST_TOLD).map((p) => day(p.at_s)));
  const not = outside.length === 0 ? '' : `, not ${outside.length === 1 ? 'that' : 'those'} of ${days}`;
  const more = outside.length > MOST_TOLD ? ` and ${outside.length - MOST_TOLD} before them` : '';
  const [since, told] = steps.length > 0 ? ['Since then ', 'steady at that level'] : ['', 'the bench reads as it did'];
  const rough = level.length < FEW ? ` Limits from ${level.length} mounts are rough.` : '';
  return `${since}${inside} of the reference stay within their band${not}${more}: ${told}.${rough}`;
}
