import { slopeTest } from '#core/signal/steady/slopeTest';
import { ambientProbes, cutRises, overAmbient, type RiseSeries, riseSeries } from '#core/signal/trace/rise';
import { rangeOf, within } from '#core/signal/trace/series';
import { findStages, type StageSpan } from '#core/signal/trace/stages';
import { throttleCauses } from '#core/signal/trace/throttle';
import { type Span, type Trace, usable } from '#core/signal/trace/types';
import { ambientFigures } from './ambient';
import { type AmbientContext, ambientTrust, coolantLevel, deadProbes } from './ambientTrust';
import { acceptFindings, alternativesOf, openDecisions, ROOM_DECISIONS, resistanceStands, roomReplaced } from './decisions';
import { fanFigures, fanFindings } from './fan';
import { heldFindings, noTimeFinding, primaryFinding, roomFindings, sensorFindings, traceFindings, unitFindings } from './findings';
import { aggregateSeries, chosenValue, evaluateLoad, flooredSe, idleRise, loggedPerformance } from './loadFigures';
import { startFindings, startState } from './startState';
import { steadinessFindings } from './steadiness';
import { judgeThrottling, type ThrottleJudgement } from './throttleJudgement';
import { REDUCE_DEFAULTS, type ReducedSensor, type ReducedStage, type ReduceOptions, type Reduction } from './types';
import { roleMean, windowMean } from './windowMeans';

/** Judgement of a log in which nothing tells load from idle. */
const NO_LOAD: ThrottleJudgement = {
  share: null,
  censored: false,
  events: [],
  times_to: [],
  findings: [
    {
      code: 'no_load',
      severity: 'reject',
      message:
        'Nothing in the log separates load from idle: power, clock, load and temperature stay at one level. All of it is treated as idle.',
    },
  ],
};

/** The same where no rise is wanted: its means are those of the whole log. */
const ONE_LEVEL: ThrottleJudgement = {
  ...NO_LOAD,
  findings: [
    {
      code: 'no_load',
      severity: 'note',
      message: 'Nothing in the log separates load from idle: its figures are means over the whole log.',
    },
  ],
};

/** Where a log without a temperature of the part is averaged: the end of its load, or all of it where it has none. */
function windowWithoutRise(trace: Trace, sustained: Span | null, { window, window_s }: ReduceOptions): Span {
  const whole = sustained ?? { start_s: 0, end_s: trace.duration_s };
  return window ?? (sustained ? { start_s: Math.max(whole.start_s, whole.end_s - window_s), end_s: whole.end_s } : whole);
}

/**
 * The reduction with the rise it is judged by over the whole run, for drawing; null without ambient. Where a decision is open, the value
 * under each way to decide stands beside it; a typed room stands in for probes that are in doubt.
 */
export function reduceTrace(trace: Trace, given: Partial<ReduceOptions> = {}): { reduction: Reduction; rise: RiseLine | null } {
  const options: ReduceOptions = { ...REDUCE_DEFAULTS, ...given };
  const read = reduceAs(trace, options, false);
  const logged = read.reduction;
  if (options.room_c !== null && logged.decision.some((d) => ROOM_DECISIONS.includes(d)) && ambientProbes(trace).length > 0)
    return reduceAs(trace, options, true);
  if (options.absolute && logged.rise_k !== null) {
    // the room is judged as ever; what is compared is the temperature in the same window
    const own = reduceAs(
      withoutAmbient(trace),
      { ...options, room_c: 0, room_u_k: null, window: logged.window, absolute: false },
      true,
    ).reduction;
    Object.assign(logged, { rise_k: own.rise_k, se_k: own.se_k, ci_k: own.ci_k, absolute: true });
  }
  if (logged.decision.length > 0)
    logged.alternatives = alternativesOf(trace, logged.decision, (other) => reduceAs(other, options, false).reduction);
  return read;
}

/**
 * @param typed true where the typed room stands although one was logged
 * One list of figures in the order in which each needs the one before; most of its lines name what is kept.
 */
function reduceAs(trace: Trace, options: ReduceOptions, typed: boolean): { reduction: Reduction; rise: RiseLine | null } {
  const rises = riseSeries(trace, options.room_c, typed);
  const hasAmbient = rises?.ambient != null;
  const wanted = options.aggregate ?? (options.sensor ? 'named' : 'mean');
  const hasPrimary = rises?.sensors.some((s) => s.channel.name === options.sensor) ?? false;
  const aggregate = wanted === 'named' && !hasPrimary ? 'mean' : wanted;

  const stages = stagesOf(trace, options);
  const load = loadSpan(stages);
  const sustained = stages.find((s) => s.stage === 'sustained') ?? null;
  const idle = stages.find((s) => s.stage === 'idle') ?? null;
  const main = rises && load && sustained ? evaluateLoad(rises, load, sustained, aggregate, trace.period_s, options) : null;
  const window = main?.found.window ?? (options.rise_wanted ? null : windowWithoutRise(trace, sustained, options));

  const throttle =
    load && sustained ? judgeThrottling(trace, stages, load, sustained, window, options) : options.rise_wanted ? NO_LOAD : ONE_LEVEL;
  const lasts = sustained ? sustained.end_s - sustained.start_s : 0;
  const steady = Boolean(main?.found.steady) && lasts >= options.window_s;
  const power = roleMean(trace, 'power', window);
  const fan = roleMean(trace, 'fan', window);
  const fanRun = fanFigures(trace, idle, load, sustained);
  const clock = roleMean(trace, 'clock', window);
  const ambient =
    window && (load || !options.rise_wanted)
      ? ambientFigures(typed ? withoutAmbient(trace) : trace, load ?? window, window, options)
      : { figures: null, findings: [] };
  const start = startState(trace, rises, load);
  const sensors = rises ? sensorFigures(rises, window) : [];
  const parts = partFigures(trace, window, typed ? options.room_c : (ambient.figures?.mean ?? options.room_c));
  const marked = markedEvents(options, load);
  const chosen = main ? chosenValue(main, options) : { rise: null, se: null, half: null };
  const rise = hasAmbient ? chosen.rise : null;
  const half = withRoom(chosen.half, trace, options, typed, 1.96);
  const meanRise = hasAmbient ? (main?.mean ?? null) : null;
  const resistance = meanRise !== null && power && power.mean > 0 ? meanRise / power.mean : null;
  const rests = steady || (options.value !== 'mean' && lasts >= options.window_s);
  const idleRiseK =
    hasAmbient && idle && rises
      ? idleRise(rises, main?.series ?? aggregateSeries(rises, aggregate, options.sensor, idle, options.window_s).series, idle, options)
      : null;
  const seen: AmbientContext = {
    load,
    window,
    rise_k: meanRise,
    idle_rise_k: idleRiseK,
    idle: { power_w: roleMean(trace, 'power', idle)?.mean ?? null, fan_rpm: roleMean(trace, 'fan', idle)?.mean ?? null },
    loaded: { power_w: power?.mean ?? null, fan_rpm: fan?.mean ?? null },
    coolant_c: coolantLevel(trace, window),
    ambient_c: ambient.figures?.mean ?? null,
  };
  const findings = acceptFindings(
    [
      ...traceFindings(trace),
      ...deadProbes(trace),
      ...(typed && options.room_c !== null
        ? [roomReplaced(trace, options.room_c)]
        : [...roomFindings(trace, options), ...ambientTrust(trace, rises, seen, options)]),
      ...(wanted === aggregate ? [] : [primaryFinding(options.sensor)]),
      ...(options.value === 'fixed' && options.at_s === null ? [noTimeFinding()] : []),
      ...throttle.findings,
      ...(main ? steadinessFindings(main, lasts, options) : []),
      ...heldFindings(throttle.censored ? { ...options, power_held: false } : options, { power, fan, clock }),
      ...sensorFindings(rises, aggregate, options.sensors),
      ...fanFindings(fanRun, fan),
      ...ambient.findings,
      ...startFindings(trace, rises, load, start, options),
      ...unitFindings(trace, sensors, typed ? null : ambient.figures),
    ],
    options.accept,
  );
  const decision = openDecisions(findings);
  const stands = decision.length === 0 && !findings.some((f) => f.severity === 'reject');
  const meanRises = sensors.flatMap((s) => s.rise_k ?? []);
  // without a room the spread is that of the temperatures, which is the same
  const levels = meanRises.length > 0 ? meanRises : sensors.flatMap((s) => s.mean_c ?? []);
  const reduction: Reduction = {
    samples: trace.samples,
    period_s: trace.period_s,
    duration_s: trace.duration_s,
    rows: totalRows(trace),
    channels: trace.channels.map(({ name, file, role, unit, t, missing, spikes, stuck, dead }) => ({
      ...{ name, file, role, unit, samples: t.length, missing, spikes, stuck, dead },
    })),
    clock_offset_s: trace.clock_offset_s,
    stages: stages.map((s, i) => ({
      ...stageFigures(trace, s, main?.series ?? null, rises, hasAmbient),
      number: s.stage === 'boost' ? stages.slice(0, i + 1).filter((b) => b.stage === 'boost').length : null,
    })),
    window,
    auto_window: main?.automatic?.window ?? null,
    steady,
    steady_at_s: (main?.automatic ?? main?.found)?.steady_at_s ?? null,
    slope_k_per_min: main?.found.test?.slope ?? null,
    ...{ ambient_c: ambient.figures, sensors, ...(parts.length > 0 ? { parts } : {}), aggregate, value: options.value },
    rise_k: rise,
    se_k: rise === null ? null : withRoom(chosen.se, trace, options, typed),
    ci_k: rise === null || half === null ? null : [rise - half, rise + half],
    resolution_k: main?.resolution ?? null,
    mean_rise_k: meanRise,
    peak_rise_k: hasAmbient ? (main?.peak ?? null) : null,
    fitted_rise_k: hasAmbient ? (main?.fit?.plateau ?? null) : null,
    fixed_rise_k: hasAmbient ? (main?.fixed ?? null) : null,
    idle_rise_k: idleRiseK,
    hottest_rise_k: meanRises.length > 0 ? Math.max(...meanRises) : null,
    spread_k: levels.length > 1 ? Math.max(...levels) - Math.min(...levels) : null,
    power_w: power?.mean ?? null,
    r_k_per_w: resistance,
    fan_rpm: fan?.mean ?? null,
    clock_mhz: clock?.mean ?? null,
    noise_db: roleMean(trace, 'noise', window)?.mean ?? null,
    exhaust_rise_k: exhaustRise(trace, window, ambient.figures?.mean ?? null),
    throttled_share: throttle.share,
    censored: throttle.censored,
    // where no rise is wanted, the other figures stand by themselves
    valid: (rise !== null || !options.rise_wanted) && !throttle.censored && (rests || !options.rise_wanted) && stands,
    r_valid: resistance !== null && steady && resistanceStands(decision),
    decision,
    alternatives: [],
    events: [...throttle.events, ...marked.events].sort((a, b) => a.at_s - b.at_s),
    times_to: [...throttle.times_to, ...marked.times_to],
    fan: fanRun,
    performance: loggedPerformance(trace, load, power?.mean ?? null),
    start_state: start,
    findings,
  };
  const whole: Span = { start_s: 0, end_s: trace.duration_s };
  const line = hasAmbient ? (main?.series ?? aggregateSeries(rises, aggregate, options.sensor, whole, options.window_s).series) : null;
  return { reduction, rise: line && rises ? { t: rises.t, values: line } : null };
}

/** How much hotter than the room the air leaves, over the window. */
function exhaustRise(trace: Trace, window: Span | null, room_c: number | null): number | null {
  const exhaust = roleMean(trace, 'exhaust', window);
  return exhaust && room_c !== null ? exhaust.mean - room_c : null;
}

/** Events marked by a person, with their time from load start; one that was waited for and did not come took longer than the load. */
function markedEvents({ marks, awaited }: ReduceOptions, load: Span | null): Pick<Reduction, 'events' | 'times_to'> {
  const start = load?.start_s ?? 0;
  const events = marks.map(({ event, at_s }) => ({ event, at_s, load_s: at_s - start }));
  const missed = load ? awaited.filter((event) => !marks.some((m) => m.event === event)) : [];
  return {
    events,
    times_to: [
      ...events.map(({ event, load_s }) => ({ event, s: load_s, reached: true })),
      ...missed.map((event) => ({ event, s: (load as Span).end_s - start, reached: false })),
    ],
  };
}

export interface RiseLine {
  t: Float64Array;
  values: Float64Array;
}

function stagesOf(trace: Trace, options: ReduceOptions): StageSpan[] {
  const stages: StageSpan[] = (trace.drive && findStages(trace.drive, throttleCauses(trace, options.limit_c))) ?? [
    { stage: 'idle', start_s: 0, end_s: trace.duration_s },
  ];
  // the drive may come from a file that began later or ended sooner; idle and cool-down reach to the ends of the run
  const first = stages[0];
  const last = stages[stages.length - 1];
  if (first?.stage === 'idle') first.start_s = 0;
  if (last?.stage === 'cooldown') last.end_s = Math.max(last.end_s, trace.duration_s);
  return stages;
}

/** From the first to the last stage under load. */
function loadSpan(stages: StageSpan[]): Span | null {
  const loaded = stages.filter((s) => s.stage === 'boost' || s.stage === 'sustained');
  return loaded.length === 0 ? null : { start_s: loaded[0].start_s, end_s: loaded[loaded.length - 1].end_s };
}

/** The trace as it is judged where a typed room stands in for its probes. */
const withoutAmbient = (trace: Trace): Trace => ({ ...trace, channels: trace.channels.filter((c) => c.role !== 'ambient') });

/** A typed room temperature carries its own uncertainty into the rise. */
function withRoom(se: number | null, trace: Trace, options: ReduceOptions, typed: boolean, times = 1): number | null {
  if (se === null || (!typed && ambientProbes(trace).length > 0)) return se;
  return Math.hypot(se, times * (options.room_u_k ?? 0));
}

function sensorFigures(rises: RiseSeries, window: Span | null): ReducedSensor[] {
  const part = window && cutRises(rises, ...rangeOf(rises.t, window));
  return (part ?? rises).sensors.map(({ channel, temperature }) => {
    const none: ReducedSensor = { name: channel.name, mean_c: null, max_c: null, rise_k: null, se_k: null, n_eff: null };
    const level = part && windowMean(part.t, temperature, window);
    if (!level) return none;
    const rise = overAmbient(part, temperature);
    const known = within(part.t, rise, window);
    const trend = slopeTest(known.t, known.values, Number.POSITIVE_INFINITY);
    return {
      name: channel.name,
      mean_c: part.absolute ? level.mean : null,
      max_c: part.absolute ? level.max : null,
      rise_k: part.ambient ? (windowMean(part.t, rise, window)?.mean ?? null) : null,
      se_k: trend ? flooredSe(trend.sd / Math.sqrt(trend.n_eff), channel.resolution) : null,
      n_eff: trend?.n_eff ?? null,
    };
  });
}

/** Other parts of the device over the same window, over the room's mean. */
const partFigures = (trace: Trace, window: Span | null, room_c: number | null): ReducedSensor[] =>
  usable(trace, 'part').flatMap((c): ReducedSensor[] => {
    const level = window && windowMean(c.t, c.clean, window);
    if (!level) return [];
    const rise = room_c === null ? null : level.mean - room_c;
    return [{ ...{ name: c.name, mean_c: level.mean, max_c: level.max, rise_k: c.rise ? level.mean : rise }, se_k: null, n_eff: null }];
  });

function stageFigures(
  trace: Trace,
  stage: StageSpan,
  series: Float64Array | null,
  rises: RiseSeries | null,
  hasAmbient: boolean,
): Omit<ReducedStage, 'number'> {
  const rise = series && rises && hasAmbient ? windowMean(rises.t, series, stage) : null;
  return {
    stage: stage.stage,
    start_s: stage.start_s,
    end_s: stage.end_s,
    power_w: roleMean(trace, 'power', stage)?.mean ?? null,
    clock_mhz: roleMean(trace, 'clock', stage)?.mean ?? null,
    mean_rise_k: rise?.mean ?? null,
    peak_rise_k: rise?.max ?? null,
  };
}

function totalRows(trace: Trace): Reduction['rows'] {
  const total = { partial: 0, ragged: 0, repeated: 0, summary: 0, out_of_order: 0 };
  for (const { rows } of trace.files) for (const key of Object.keys(total) as (keyof typeof total)[]) total[key] += rows[key];
  return total;
}
