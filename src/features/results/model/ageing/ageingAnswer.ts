import { tQuantile } from '#core/stats/distributions/t';
import { mean, standardDeviation } from '#core/stats/moments';
import { write, writeMargin, writeSigned } from '#core/text/words';
import {
  type AgedValue,
  type AgeingCourse,
  type AgeingVerdict,
  ageingVerdict,
  courseAt,
  fitAgeing,
  meanRate,
} from '#core/thermal/ageing/course';
import type { StudyFacts } from '../facts';

const DAY_S = 86_400;
/** a mean month, days */
const MONTH = 30.4;
/** Mounts that were followed for less are told in hours. */
const IN_DAYS_FROM = 3 * DAY_S;
/** A run this near to a planned age counts as it, as a share of the age and at least half a day. */
const NEAR = 0.1;
/** Fan speeds within this share are one that was set. */
const SAME_SPEED = 0.05;

/** A specimen over its age. */
export interface AgedSpecimen {
  name: string;
  position: number;
  values: AgedValue[];
  course: AgeingCourse | null;
  verdict: AgeingVerdict | null;
  /** the course of the mean, for drawing */
  line: { age: number; value: number }[];
  sentence: string;
}

/** A measurement that a plan asks for. */
export interface DueMeasurement {
  specimen: string;
  mount: number;
  mount_id: number;
  age_days: number;
  /** seconds since 1970 */
  due_s: number;
  /** false where it is a time of the bench's clock, whose zone nobody told */
  zoned: boolean;
}

/** Days, hours, or load cycles. */
type AgeUnit = 'd' | 'h' | 'cycles';

export interface AgeingAnswer {
  unit: AgeUnit;
  specimens: AgedSpecimen[];
  headline: string;
  due: DueMeasurement[];
}

const LINE_POINTS = 60;

/**
 * The specimens of a study over the age of their mounts, counted from each mount's first run; null while nothing was run twice at an
 * interval.
 * @param by time since the first run, or load cycles: every run of a mount is one, whether it counts or not
 */
export function answerAgeing(
  facts: Pick<StudyFacts, 'runs' | 'specimens' | 'margin_k' | 'confidence' | 'ages'>,
  by: 'time' | 'cycles' = 'time',
): AgeingAnswer | null {
  const timed = facts.runs.filter((r) => r.at_s != null);
  const first = new Map<number, number>();
  for (const r of timed) first.set(r.mount_id, Math.min(first.get(r.mount_id) ?? Number.POSITIVE_INFINITY, r.at_s as number));
  const ageOf = (r: (typeof timed)[number]) => (r.at_s as number) - (first.get(r.mount_id) as number);
  const oldest = Math.max(0, ...timed.map(ageOf));
  const inTime = oldest >= IN_DAYS_FROM ? 'd' : 'h';
  const unit: AgeUnit = by === 'cycles' ? 'cycles' : inTime;
  const inHours = (s: number) => (inTime === 'd' ? Math.round(s / DAY_S) : Math.round(s / 360) / 10);
  const cyclesOf = (r: (typeof timed)[number]) =>
    timed.filter((o) => o.mount_id === r.mount_id && (o.at_s as number) < (r.at_s as number)).length;
  const ageToTell = (r: (typeof timed)[number]) => (by === 'cycles' ? cyclesOf(r) : inHours(ageOf(r)));
  const counted = timed.filter((r) => r.valid && r.mount_reason === null && r.run_reason === null && r.values.rise !== undefined);
  const specimens = facts.specimens
    .flatMap((s) => groupsOf(s, counted, ageToTell))
    .map((s): AgedSpecimen => {
      const { values } = s;
      const course = fitAgeing(values, facts.confidence);
      const verdict = course && ageingVerdict(course, facts.margin_k);
      return {
        ...{ name: s.name, position: s.position, values, course, verdict },
        line: course ? lineOf(course) : [],
        sentence:
          course && verdict
            ? ageingSentence(s.name, course, verdict, { unit, margin: facts.margin_k, confidence: facts.confidence })
            : missing(s.name, values, unit, facts.confidence),
      };
    });
  if (specimens.every((s) => new Set(s.values.map((v) => v.age)).size < 2)) return null;
  const told = specimens.filter((s) => s.verdict !== null);
  const lead = told.find((s) => s.verdict === 'worse') ?? told.find((s) => s.verdict === 'worse_within_margin') ?? told[0] ?? specimens[0];
  return { unit, specimens, headline: lead.sentence, due: dueMeasurements(timed, first, facts.ages, inTime) };
}

/**
 * A specimen's values over age, apart for every load and set speed of the fan: one that is run at several would seem to change with its
 * age.
 */
function groupsOf(s: StudyFacts['specimens'][number], runs: StudyFacts['runs'], ageOf: (r: StudyFacts['runs'][number]) => number) {
  const own = runs.filter((r) => r.specimen === s.name);
  const speeds = setSpeeds(own.flatMap((r) => (r.values.fan_speed ? [r.values.fan_speed] : [])));
  const speedOf = (r: StudyFacts['runs'][number]) =>
    speeds.reduce<number | null>((near, v) => (Math.abs(v - (r.values.fan_speed ?? 0)) <= SAME_SPEED * v ? v : near), null);
  const groups = new Map<string, { name: string; values: AgedValue[] }>();
  const several = { loads: new Set(own.map((r) => r.load)).size > 1, speeds: speeds.length > 1 };
  for (const r of own) {
    const [load, speed] = [r.load, speedOf(r)];
    const at = [...(several.loads && load !== null ? [load] : []), ...(several.speeds && speed !== null ? [`${write(speed, 0)} rpm`] : [])];
    const key = `${load} ${speed}`;
    const group = groups.get(key) ?? { name: at.length > 0 ? `${s.name}, ${at.join(', ')},` : s.name, values: [] };
    group.values.push({ mount: String(r.mount), age: ageOf(r), value: r.values.rise as number });
    groups.set(key, group);
  }
  const all = [...groups.values()];
  const aged = all.filter((g) => new Set(g.values.map((v) => v.age)).size > 1);
  const told = aged.length > 0 ? aged : all.slice(0, 1);
  return told.length > 0 ? told.map((g) => ({ ...g, position: s.position })) : [{ name: s.name, position: s.position, values: [] }];
}

/** Fan speeds that were set: those within a twentieth of each other are one. */
function setSpeeds(rpm: number[]): number[] {
  const groups: number[][] = [];
  for (const v of [...rpm].sort((a, b) => a - b)) {
    const last = groups[groups.length - 1];
    if (last && v <= last[0] * (1 + SAME_SPEED)) last.push(v);
    else groups.push([v]);
  }
  return groups.map(mean);
}

function lineOf(course: AgeingCourse): AgedSpecimen['line'] {
  const [from, to] = course.ages;
  if (course.shape === null) return course.means;
  return Array.from({ length: LINE_POINTS }, (_, i) => {
    const age = from + ((to - from) * i) / (LINE_POINTS - 1);
    return { age, value: course.mounts.reduce((sum, m) => sum + courseAt(course, m, age), 0) / course.mounts.length };
  });
}

function missing(name: string, values: AgedValue[], unit: AgeUnit, confidence: number): string {
  const ages = new Set(values.map((v) => v.age)).size;
  if (values.length === 0) return `${name} has no valid run with a time yet.`;
  if (ages === 1) return `${name} was measured at one age only; a course takes three, on the same mounts.`;
  if (ages === 2)
    return `${name} was measured at two ages only; a course takes three, on the same mounts.${betweenTwo(values, unit, confidence)}`;
  return `${name} has no mount that was measured twice, so differences between mounts cannot be separated from ageing.`;
}

/** What two ages alone tell: the change of the mounts that were measured at both, a bound on nothing between or beyond. */
function betweenTwo(values: AgedValue[], unit: AgeUnit, confidence: number): string {
  const [young, old] = [...new Set(values.map((v) => v.age))].sort((a, b) => a - b);
  const at = (mount: string, age: number) => values.filter((v) => v.mount === mount && v.age === age).map((v) => v.value);
  const changes = [...new Set(values.map((v) => v.mount))].flatMap((m) => {
    const [before, after] = [at(m, young), at(m, old)];
    return before.length > 0 && after.length > 0 ? [mean(after) - mean(before)] : [];
  });
  if (changes.length === 0) return '';
  const change = mean(changes);
  const said = ` Between ${writeAge(young, unit)} and ${writeAge(old, unit)} it changed by ${writeSigned(change, 1)} K`;
  if (changes.length === 1) return `${said}, in one mount, which says nothing about another.`;
  const half = (tQuantile((1 + confidence) / 2, changes.length - 1) * standardDeviation(changes)) / Math.sqrt(changes.length);
  return `${said} (${Number((100 * confidence).toFixed(1))} % ${write(change - half, 1)} to ${write(change + half, 1)}, ${changes.length} mounts).`;
}

function writeAge(age: number, unit: AgeUnit): string {
  if (unit === 'cycles') return `${write(age, 0)} ${age === 1 ? 'cycle' : 'cycles'}`;
  return unit === 'd' ? `${write(age, 0)} ${age === 1 ? 'day' : 'days'}` : `${write(age, 1)} hours`;
}

interface SentenceSetting {
  unit: AgeUnit;
  margin: number;
  confidence: number;
}

/** What age did to a specimen, with the interval and what it rests on. */
function ageingSentence(name: string, course: AgeingCourse, verdict: AgeingVerdict, { unit, margin, confidence }: SentenceSetting): string {
  const span = course.ages[1] - course.ages[0];
  const time = writeAge(span, unit);
  const { value, ci } = course.change;
  const turned = value < 0 ? [-ci[1], -ci[0]] : ci;
  const n = course.mounts.length;
  const rests = course.rests_on === 'mounts' ? `${n} mounts` : 'one mount, which says nothing about another';
  const interval = `${Number((100 * confidence).toFixed(1))} % ${write(turned[0], 1)} to ${write(turned[1], 1)}, ${rests}`;
  const amount = `${write(Math.abs(value), 1)} K`;
  const limit = `${writeMargin(margin)} K`;
  switch (verdict) {
    case 'worse':
      return `${name} runs ${amount} warmer after ${time} (${interval})${rateOf(course, unit)}.`;
    case 'worse_within_margin':
      return `${name} runs ${amount} warmer after ${time} (${interval}), less than the ${limit} that matter${rateOf(course, unit)}.`;
    case 'better':
      return `${name} runs ${amount} cooler after ${time} (${interval}): it conditioned, cured or thinned out.`;
    case 'better_within_margin':
      return `${name} runs ${amount} cooler after ${time} (${interval}), less than the ${limit} that matter.`;
    case 'steady':
      return `${name} is after ${time} as it was, within ${limit}: it changed by ${amount} (${interval}).`;
    case 'unresolved':
      return `Whether ${name} changes in ${time} is not settled: by ${write(value, 1)} K so far (${Number((100 * confidence).toFixed(1))} % ${write(ci[0], 1)} to ${write(ci[1], 1)}, ${rests}).`;
  }
}

/** Loss a month or a cycle, where the course is straight; a course that slows down has no one rate. */
function rateOf(course: AgeingCourse, unit: AgeUnit): string {
  if (unit === 'h') return '';
  if (course.shape === null) return ', along no simple course, so no rate is given';
  if (course.shape !== 'linear') return ', more slowly as time goes on';
  // cycles were few: a rate over more than were made would say something of those that were not
  const [per, words, digits] = unit === 'd' ? [MONTH, 'a month', 1] : [1, 'a cycle', 2];
  const { value, ci } = meanRate(course, per);
  return `, ${write(value, digits)} K ${words} (${write(ci[0], digits)} to ${write(ci[1], digits)})`;
}

/** The next planned age of every mount that is not measured yet. */
function dueMeasurements(timed: StudyFacts['runs'], first: Map<number, number>, ages: number[], unit: 'd' | 'h'): DueMeasurement[] {
  if (unit === 'h' && ages.length === 0) return [];
  const mounts = [...new Map(timed.filter((r) => r.mount_reason === null).map((r) => [r.mount_id, r])).values()];
  return mounts
    .flatMap((m): DueMeasurement[] => {
      const start = first.get(m.mount_id) as number;
      const measured = timed.filter((r) => r.mount_id === m.mount_id).map((r) => ((r.at_s as number) - start) / DAY_S);
      const oldest = Math.max(...measured);
      const next = ages.find((a) => a > oldest + Math.max(0.5, NEAR * a));
      return next === undefined
        ? []
        : [
            {
              specimen: m.specimen,
              mount: m.mount,
              mount_id: m.mount_id,
              age_days: next,
              due_s: start + next * DAY_S,
              zoned: m.at_zoned ?? false,
            },
          ];
    })
    .sort((a, b) => a.due_s - b.due_s);
}
