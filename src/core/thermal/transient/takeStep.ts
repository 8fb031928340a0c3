import { beginningOf, plainStep, powerCourse } from '#core/signal/course/powerCourse';
import { readingErrors } from '#core/signal/course/readingErrors';
import { findGaps } from '#core/signal/trace/quality';
import { type RiseSeries, riseSeries } from '#core/signal/trace/rise';
import { joinSeries, rangeOf, within } from '#core/signal/trace/series';
import { findStages, halfWidth } from '#core/signal/trace/stages';
import { type Channel, type Span, type Trace, usable } from '#core/signal/trace/types';
import { mean } from '#core/stats/moments';
import { median, runningMedian, scaledMad } from '#core/stats/quantiles';
import { plural, write } from '#core/text/words';
import type { StepRecord, TransientFinding, TransientOptions } from './types';

/** How long before the step its level and what is left of the state before are read, s. */
const BEFORE_S = 300;
/** Its power is read over this time before it, s. */
const POWER_BEFORE_S = 60;
/** A power is on its way up or down for no longer than this, s. */
const RISE_S = 5;
/** The temperature may still move by this share of the step before it. */
const MOVING = 0.15;
/** Power and fan may move by this share during a step; by more than the second, the step is of no use from there on. */
const HELD = 0.02;
const LOST = 0.1;
const FAN_HELD_RPM = 20;
const LEAST_SAMPLES = 50;
/**
 * Where no power was logged, the step is looked for this far around its stage's beginning, by readings so many times their scatter away.
 */
const SEARCH_S = 20;
const STANDS_OUT = 5;

/**
 * Takes one step of power out of a log: the rise over the room from the level before it, per watt, on a clock that starts with the step.
 * Only what power and fan held still for is taken; each thing that stands in the way is a finding.
 * One examination from top to bottom: each thing that stands in the way ends it or is noted, and what follows rests on it.
 * @returns the step, or null with the refusal that says what is missing
 */
export function takeStep(trace: Trace, options: TransientOptions): { step: StepRecord | null; findings: TransientFinding[] } {
  const findings: TransientFinding[] = [];
  const refuse = (code: TransientFinding['code'], sentence: string) => ({
    step: null,
    findings: [...findings, { code, severity: 'refuse' as const, sentence }],
  });
  const warn = (code: TransientFinding['code'], sentence: string) => findings.push({ code, severity: 'warn', sentence });
  const rises = riseSeries(trace, null);
  const stages = trace.drive && findStages(trace.drive, () => false);
  if (!rises || !trace.drive || !stages)
    return refuse('no_step', 'The log shows no step of load: a log of heating or cooling with its power is needed.');
  const kind = options.step;
  const edge =
    kind === 'heating' ? stages.find((s) => s.stage === 'boost' || s.stage === 'sustained') : stages.find((s) => s.stage === 'cooldown');
  const before = edge && stages[stages.indexOf(edge) - 1];
  if (!edge || !before) {
    const wanted = kind === 'heating' ? 'load is switched on after some idle time' : 'the part cools down after the load';
    return refuse('no_step', `The log holds no part where ${wanted}.`);
  }
  const power = usable(trace, 'power')[0] ?? null;
  const drive = trace.channels.find((c) => c.role === trace.drive?.kind) ?? null;
  const half_s = drive ? momentOf(drive, edge.start_s) : edge.start_s;
  let end_s = edge.end_s;

  const powers = power ? powerOf(power, half_s, end_s) : null;
  const power_w = powers ? Math.abs(powers.after - powers.before) : options.power_w;
  if (!power_w || !(power_w > 0)) return refuse('no_power', 'No power was logged: type the power that was switched, in watts.');
  if (powers && powers.moved > HELD * power_w) {
    const words = `The power moved by ${write(powers.moved, 1)} W of ${write(power_w, 1)} W during the step`;
    if (powers.moved > LOST * power_w) return refuse('power_moves', `${words}: the answer of a step needs a power that is held.`);
    warn('power_moves', `${words}. The layers are read with that course, but hold the power for a better answer.`);
  }
  const before_s = Math.max(before.start_s, half_s - BEFORE_S);
  const sensor = chooseSensor(rises, options.sensor, kind === 'heating' ? end_s : half_s);
  if (!sensor) return refuse('no_step', `There is no sensor "${options.sensor}" in the log.`);
  if (!rises.ambient) warn('room_unknown', 'The room was not logged: what it moved meanwhile is counted as the body’s.');
  const own = rises.ambient ? sensor.temperature.map((v, i) => v - (rises.ambient as Float64Array)[i]) : sensor.temperature;
  const begun =
    power && powers
      ? { at_s: beginningOf(power, half_s, powers.before, powers.after, before_s), sd_s: power.period_s / 2 }
      : beginningByTemperature(within(rises.t, own, { start_s: half_s - SEARCH_S, end_s: half_s + SEARCH_S }), kind === 'heating' ? 1 : -1);
  if (!begun) return refuse('no_step', 'The temperature does not follow the step: nothing stands out of the scatter of its readings.');
  const { at_s } = begun;
  if (!power)
    warn(
      'power_unlogged',
      `How the power rose was not logged: it is taken as a plain step, and layers that answer within a second or two may be the power's own rise.`,
    );
  if (kind === 'heating' && edge.stage === 'boost')
    warn('power_moves', `The power changes level ${write(end_s - at_s, 0)} s after the step: only what comes before is read.`);
  for (const fan of usable(trace, 'fan')) {
    const moves = fanMoves(fan, at_s, end_s);
    if (!moves) continue;
    end_s = Math.min(end_s, moves.at_s);
    warn(
      'fan_moves',
      `The fan changes from ${write(moves.from, 0)} to ${write(moves.to, 0)} rpm, ${write(moves.at_s - at_s, 0)} s after the step: the way to the room is another from there on, and only what comes before is read.`,
    );
  }

  const level = within(rises.t, own, { start_s: before_s, end_s: at_s + 1e-9 });
  const course = within(rises.t, own, { start_s: at_s + 1e-9, end_s });
  if (course.t.length < LEAST_SAMPLES)
    return refuse(
      'few_samples',
      `Only ${course.t.length} readings follow the step undisturbed; at least ${LEAST_SAMPLES} are needed, and some hundred are better.`,
    );
  if (level.t.length < 3)
    return refuse('no_step', 'The level before the step is not in the log: at least three readings are needed there.');
  const interval_s = median(course.t.slice(1).map((t, i) => t - course.t[i]));
  const gaps = findGaps({ t: course.t, values: course.values, period_s: interval_s });
  if (gaps.length > 0) warn('gaps', `Readings are missing in ${plural(gaps.length, 'place')} after the step.`);

  const sign = kind === 'heating' ? 1 : -1;
  const start = mean(level.values);
  const rise_k = course.values.reduce((most, v) => Math.max(most, sign * (v - start)), 0);
  const moved = Math.abs(
    mean(level.values.slice(-Math.ceil(level.t.length / 3))) - mean(level.values.slice(0, Math.ceil(level.t.length / 3))),
  );
  const { resolution } = sensor.channel;
  const errors = readingErrors(course.values.slice(Math.floor(course.values.length / 2)), resolution);
  const noise_k = Math.hypot(errors.scatter, errors.resolution / Math.sqrt(12));
  if (!(rise_k > 10 * noise_k))
    return refuse('no_step', 'The temperature does not follow the step: nothing stands out of the scatter of its readings.');
  if (moved > MOVING * rise_k + 3 * noise_k)
    return refuse(
      'moving_before',
      `Before the step the temperature still moved by ${write(moved, 1)} K of the ${write(rise_k, 1)} K that follow: begin from a settled level, or log more of it.`,
    );
  if (resolution !== null && rise_k < 30 * resolution)
    return refuse(
      'too_coarse',
      `The change of ${write(rise_k, 1)} K is read in steps of ${resolution} K: too coarse to tell layers. A sensor that shows hundredths, or more power, is needed.`,
    );
  if (resolution !== null && rise_k < 100 * resolution)
    warn(
      'coarse',
      `The change of ${write(rise_k, 1)} K is read in steps of ${resolution} K: layers of less than ${write(rise_k / 20, 1)} K do not show.`,
    );
  const whole = powers ? powers.after - powers.before : power_w;
  return {
    step: {
      ...{ kind, sensor: sensor.channel.name, power_w, at_s, interval_s, errors },
      moment_sd_s: Math.max(begun.sd_s, interval_s / Math.sqrt(12)),
      course: power && powers ? powerCourse(power, at_s, end_s, powers.before, whole) : plainStep(interval_s),
      t: joinSeries(level.t, course.t).map((t) => t - at_s),
      k_per_w: joinSeries(level.values, course.values).map((v) => (sign * (v - start)) / power_w),
      resolution_k: resolution,
      findings,
    },
    findings,
  };
}

/** The moment a drive passes half of its step, between the two samples around it. */
function momentOf(drive: Channel, near_s: number): number {
  const [from, to] = rangeOf(drive.t, { start_s: near_s - 10, end_s: near_s + 10 });
  const low = median(drive.values.subarray(from, from + Math.max(1, Math.floor((to - from) / 4))));
  const high = median(drive.values.subarray(to - Math.max(1, Math.floor((to - from) / 4)), to));
  const half = (low + high) / 2;
  for (let i = from + 1; i < to; i++) if (drive.values[i - 1] < half !== drive.values[i] < half) return (drive.t[i - 1] + drive.t[i]) / 2;
  return near_s;
}

/**
 * Where a temperature begins to follow a step, and how unsure that is; null where it does not. Two readings in a row stand out of those
 * before.
 */
function beginningByTemperature(
  { t, values }: { t: Float64Array; values: Float64Array },
  sign: 1 | -1,
): { at_s: number; sd_s: number } | null {
  const calm = Array.from(values.subarray(0, Math.floor(values.length / 4)));
  if (calm.length < 3) return null;
  const level = median(calm);
  const allowed = Math.max(STANDS_OUT * scaledMad(calm), Math.max(...calm.map((v) => Math.abs(v - level))));
  const out = (i: number) => sign * (values[i] - level) > allowed;
  const first = values.findIndex((_, i) => i > calm.length && out(i) && (i + 1 >= values.length || out(i + 1)));
  if (first < 1) return null;
  const apart = t[first] - t[first - 1];
  const slope = Math.max(sign * (values[first] - level), allowed) / apart;
  return { at_s: t[first - 1], sd_s: Math.max(apart, allowed / slope) };
}

/** Power before and after a step, and how far it moved from the first tenth after it to the last. */
function powerOf(power: Channel, at_s: number, end_s: number): { before: number; after: number; moved: number } {
  const over = (start_s: number, end: number) => {
    const { values } = within(power.t, power.clean, { start_s, end_s: end });
    return values.length === 0 ? Number.NaN : median(values);
  };
  const begin = at_s + Math.min(5, (end_s - at_s) / 20);
  const tenth = (end_s - begin) / 10;
  const before = over(at_s - POWER_BEFORE_S, at_s - Math.max(power.period_s, RISE_S));
  return {
    before: Number.isNaN(before) ? 0 : before,
    after: over(begin, end_s),
    moved: Math.abs(over(end_s - tenth, end_s) - over(begin, begin + tenth)),
  };
}

/** Where a fan leaves the speed it had at the step. */
function fanMoves(fan: Channel, at_s: number, end_s: number): { at_s: number; from: number; to: number } | null {
  const { t, values } = within(fan.t, fan.clean, { start_s: at_s, end_s });
  if (values.length < 3) return null;
  const level = runningMedian(values, Math.max(1, halfWidth(5, fan.period_s)));
  const from = level[0];
  const allowed = Math.max(FAN_HELD_RPM, HELD * from);
  const i = level.findIndex((v) => Math.abs(v - from) > allowed);
  return i < 0 ? null : { at_s: t[i], from, to: level[level.length - 1] };
}

/** The sensor of that name, else the one that is hottest at a time. */
function chooseSensor(rises: RiseSeries, name: string | null, at_s: number) {
  if (name !== null) return rises.sensors.find((s) => s.channel.name === name) ?? null;
  const around: Span = { start_s: at_s - POWER_BEFORE_S / 2, end_s: at_s + 1e-9 };
  const heights = rises.sensors.map((s) => {
    const { values } = within(rises.t, s.temperature, around);
    return values.length === 0 ? Number.NEGATIVE_INFINITY : mean(values);
  });
  return rises.sensors[heights.indexOf(Math.max(...heights))] ?? null;
}
