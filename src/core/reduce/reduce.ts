import { write } from '../compare/number';
import type { Finding } from '../compare/types';
import type { Approach } from '../steady/approach';
import { slopeTest } from '../steady/slopeTest';
import type { FoundWindow } from '../steady/window';
import { driveOf } from '../trace/drive';
import { type RiseSeries, riseSeries } from '../trace/rise';
import { within } from '../trace/series';
import { findStages, type StageSpan } from '../trace/stages';
import { findThrottling, type Throttling, throttleCauses } from '../trace/throttle';
import { type Span, type Trace, usable } from '../trace/types';
import { ambientFigures } from './ambient';
import { heldFindings, traceFindings } from './findings';
import { chosenValue, evaluateLoad, flooredSe, idleRise } from './loadFigures';
import { startFindings, startState } from './startState';
import { REDUCE_DEFAULTS, type ReducedSensor, type ReducedStage, type ReduceOptions, type Reduction } from './types';
import { roleMean, windowMean } from './windowMeans';

/** Share of throttled samples above which a run is censored. */
const CENSOR_SHARE = 0.005;

/**
 * From a trace to the run value with its stages, window, uncertainty and findings.
 * The run value is a rise over ambient in K; a run that throttles in its window gives a lower bound only.
 * @param given options that differ from the defaults
 */
export function reduce(trace: Trace, given: Partial<ReduceOptions> = {}): Reduction {
  const options: ReduceOptions = { ...REDUCE_DEFAULTS, ...given };
  const findings = traceFindings(trace);
  const rises = riseSeries(trace, options.room_c);
  const stages = stagesOf(trace, options);
  const load = loadSpan(stages);
  const sustained = stages.find((s) => s.stage === 'sustained') ?? null;
  const aggregate = options.aggregate ?? (options.sensor ? 'named' : 'mean');
  const hasAmbient = rises?.ambient != null;

  if (!hasAmbient)
    findings.push({
      code: 'ambient_missing',
      severity: 'reject',
      message: 'No ambient temperature was logged, so there is no rise over ambient. Add the room log, or type one room value.',
    });
  if (usable(trace, 'ambient').length === 0 && options.room_c !== null) {
    findings.push({
      code: 'ambient_typed',
      severity: 'warn',
      message: `The room was not logged; one typed value of ${write(options.room_c, 1)} °C${options.room_u_k === null ? '' : ` ± ${write(options.room_u_k, 1)} K`} stands for the whole run.`,
    });
  }
  if (!sustained)
    findings.push({
      code: 'no_load',
      severity: 'reject',
      message: 'Nothing in the log tells load from idle: power, clock, load and temperature stay at one level.',
    });

  const main = rises && load && sustained ? evaluateLoad(rises, load, sustained, aggregate, trace.period_s, options) : null;
  const window = main?.found.window ?? null;
  if (sustained && sustained.end_s - sustained.start_s < options.window_s) {
    findings.push({
      code: 'short_load',
      severity: 'reject',
      message: `The sustained load lasts ${write(sustained.end_s - sustained.start_s, 0)} s, shorter than the window of ${write(options.window_s, 0)} s.`,
    });
  }

  const throttling = load
    ? findThrottling(
        trace,
        load,
        stages.filter((s) => s.stage === 'boost' || s.stage === 'sustained'),
        options.limit_c,
      )
    : null;
  const span = load && sustained ? restsOn(options, load, sustained, window) : null;
  const share = span && throttling ? throttling.share(span) : null;
  const censored = share !== null && share > CENSOR_SHARE;
  throttleFindings(throttling, share, censored, load, sustained, findings, trace, options);

  const short = findings.some((f) => f.code === 'short_load');
  const steady = Boolean(main?.found.steady) && !short;
  if (main && !steady && !short) {
    const slope = main.found.test;
    findings.push({
      code: 'not_steady',
      severity: options.value === 'mean' ? 'reject' : 'warn',
      message: slope
        ? `Not steady: the last window still moves by ${write(slope.slope, 2)} ± ${write(slope.reach, 2)} K/min; ${write(options.slope_k_per_min, 2)} is allowed.`
        : 'Not steady: the last window has too few readings to judge.',
    });
  }
  if (main?.fit && steady) creepFinding(main.found, main.fit, options, findings);

  const power = roleMean(trace, 'power', window);
  const fan = roleMean(trace, 'fan', window);
  const clock = roleMean(trace, 'clock', window);
  findings.push(...heldFindings(options, { power, fan, clock }));
  const ambient = window ? ambientFigures(trace, window, options, findings) : null;
  const start = startState(trace, rises, load);
  startFindings(trace, rises, load, start, options.first, findings);
  const sensors = rises ? sensorFigures(rises, window) : [];
  unitFindings(sensors, ambient, findings);

  const chosen = main ? chosenValue(main, options) : { rise: null, se: null };
  const rise = hasAmbient ? chosen.rise : null;
  const meanRises = sensors.flatMap((s) => (s.rise_k === null ? [] : [s.rise_k]));
  const meansC = sensors.flatMap((s) => (s.mean_c === null ? [] : [s.mean_c]));
  const meanRise = hasAmbient ? (main?.mean ?? null) : null;
  const resistance = meanRise !== null && power && power.mean > 0 ? meanRise / power.mean : null;
  const needsSteady = options.value === 'mean' && !steady;
  const valid = rise !== null && !censored && !needsSteady && !short;
  const idle = stages.find((s) => s.stage === 'idle');

  return {
    samples: trace.samples,
    period_s: trace.period_s,
    duration_s: trace.duration_s,
    rows: totalRows(trace),
    channels: trace.channels.map(({ name, file, role, unit, t, missing, spikes, stuck, dead }) => ({
      name,
      file,
      role,
      unit,
      samples: t.length,
      missing,
      spikes,
      stuck,
      dead,
    })),
    clock_offset_s: trace.clock_offset_s,
    stages: stages.map((s) => stageFigures(trace, s, main?.series ?? null, rises, hasAmbient)),
    window,
    steady,
    steady_at_s: main?.found.steady_at_s ?? null,
    slope_k_per_min: main?.found.test?.slope ?? null,
    ambient_c: ambient,
    sensors,
    aggregate,
    value: options.value,
    rise_k: rise,
    se_k: rise === null ? null : withRoom(chosen.se, trace, options),
    mean_rise_k: meanRise,
    peak_rise_k: hasAmbient ? (main?.peak ?? null) : null,
    fitted_rise_k: hasAmbient ? (main?.fit?.plateau ?? null) : null,
    fixed_rise_k: hasAmbient ? (main?.fixed ?? null) : null,
    idle_rise_k: hasAmbient && idle && main && rises ? idleRise(rises, main.series, idle, options) : null,
    hottest_rise_k: meanRises.length > 0 ? Math.max(...meanRises) : null,
    spread_k: meansC.length > 1 ? Math.max(...meansC) - Math.min(...meansC) : null,
    power_w: power?.mean ?? null,
    r_k_per_w: resistance,
    fan_rpm: fan?.mean ?? null,
    clock_mhz: clock?.mean ?? null,
    noise_db: roleMean(trace, 'noise', window)?.mean ?? null,
    throttled_share: share,
    censored,
    valid,
    r_valid: resistance !== null && steady,
    events: throttleEvents(throttling, load),
    start_state: start,
    findings,
  };
}

function stagesOf(trace: Trace, options: ReduceOptions): StageSpan[] {
  const drive = driveOf(trace.channels);
  const stages = (drive && findStages(drive, throttleCauses(trace, options.limit_c))) ?? [];
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

/** A typed room temperature carries its own uncertainty into the rise. */
function withRoom(se: number | null, trace: Trace, options: ReduceOptions): number | null {
  if (se === null || usable(trace, 'ambient').length > 0) return se;
  return Math.hypot(se, options.room_u_k ?? 0);
}

/** The span a value rests on: window, whole sustained stage, or the load up to the instant. */
function restsOn(options: ReduceOptions, load: Span, sustained: Span, window: Span | null): Span | null {
  if (options.value === 'mean') return window;
  if (options.value === 'fixed' && options.at_s !== null) return { start_s: load.start_s, end_s: load.start_s + options.at_s };
  return sustained;
}

function throttleFindings(
  throttling: Throttling | null,
  share: number | null,
  censored: boolean,
  load: Span | null,
  sustained: Span | null,
  findings: Finding[],
  trace: Trace,
  options: ReduceOptions,
): void {
  const whole = sustained && throttling ? throttling.share(sustained) : null;
  if (censored && share !== null) {
    findings.push({
      code: 'throttled',
      severity: 'reject',
      message: `Throttled for ${write(100 * share, share < 0.1 ? 1 : 0)} % of the span the value rests on: the rise is at or above the figure shown, and takes no part in means.`,
      numbers: { share },
    });
  } else if (whole !== null && whole > CENSOR_SHARE) {
    findings.push({
      code: 'throttled_early',
      severity: 'warn',
      message: `Throttled for ${write(100 * whole, 1)} % of the sustained load, but not where the value is taken.`,
      numbers: { share: whole },
    });
  }
  if (options.limit_c === null || !load || (whole ?? 0) > 0 || censored) return;
  const limit = options.limit_c;
  const peaks = usable(trace, 'sensor').flatMap((s) => windowMean(s.t, s.clean, load)?.max ?? []);
  const peak = Math.max(...peaks);
  if (peak > limit - 3) {
    findings.push({
      code: 'near_limit',
      severity: 'note',
      message: `The hottest reading of ${write(peak, 1)} °C comes within 3 K of the limit of ${write(limit, 0)} °C.`,
      numbers: { peak_c: peak },
    });
  }
}

function throttleEvents(throttling: Throttling | null, load: Span | null): Reduction['events'] {
  const at = load && throttling ? throttling.first(load) : null;
  return at === null ? [] : [{ event: 'throttle', at_s: at }];
}

/** Flat enough to pass, yet on its way: what is left to come, slope × slowest time constant, exceeds a quarter of the margin. */
function creepFinding(found: FoundWindow, fit: Approach, options: ReduceOptions, findings: Finding[]): void {
  const slope = found.test?.slope ?? 0;
  const slowest = fit.terms[fit.terms.length - 1].tau_s;
  const rest = (Math.abs(slope) * slowest) / 60;
  // a slope that its own uncertainty covers says nothing about the way left
  if (rest <= options.margin_k / 4 || Math.abs(slope) <= (found.test?.reach ?? 0)) return;
  findings.push({
    code: 'creeping',
    severity: 'warn',
    message: `Flat enough to pass, yet creeping: at ${write(slope, 2)} K/min about ${write(rest, 1)} K are still to come.`,
    numbers: { rest_k: rest },
  });
}

function sensorFigures(rises: RiseSeries, window: Span | null): ReducedSensor[] {
  return rises.sensors.map(({ channel, temperature, rise }) => {
    const none: ReducedSensor = { name: channel.name, mean_c: null, max_c: null, rise_k: null, se_k: null, n_eff: null };
    if (!window) return none;
    const level = windowMean(rises.t, temperature, window);
    if (!level) return none;
    const part = within(rises.t, rise ?? temperature, window);
    const trend = slopeTest(part.t, part.values, Number.POSITIVE_INFINITY);
    return {
      name: channel.name,
      mean_c: level.mean,
      max_c: level.max,
      rise_k: rise ? (windowMean(rises.t, rise, window)?.mean ?? null) : null,
      se_k: trend ? flooredSe(trend.sd / Math.sqrt(trend.n_eff), channel.resolution) : null,
      n_eff: trend?.n_eff ?? null,
    };
  });
}

function unitFindings(sensors: ReducedSensor[], ambient: Reduction['ambient_c'], findings: Finding[]): void {
  const suspect = (message: string) => findings.push({ code: 'unit_suspect', severity: 'warn', message });
  for (const s of sensors) {
    if (s.mean_c !== null && (s.mean_c > 130 || s.mean_c < -60))
      suspect(`${s.name} reads ${write(s.mean_c, 0)} °C under load, which no such part survives: is it in °F?`);
  }
  if (ambient && (ambient.mean > 55 || ambient.mean < -40))
    suspect(`Ambient reads ${write(ambient.mean, 0)} °C, which is no room: is it in °F, or another column?`);
}

function stageFigures(trace: Trace, stage: StageSpan, series: Float64Array | null, rises: RiseSeries | null, hasAmbient: boolean): ReducedStage {
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
