import { frameFigures } from '#core/signal/performance/frames';
import { type Approach, fitApproach } from '#core/signal/steady/approach';
import { meanHalfWidth } from '#core/signal/steady/meanInterval';
import { slopeTest } from '#core/signal/steady/slopeTest';
import { type FoundWindow, findWindow } from '#core/signal/steady/window';
import { cutRises, overAmbient, type RiseSeries } from '#core/signal/trace/rise';
import { meanOfSeries, rangeOf, within } from '#core/signal/trace/series';
import type { Span, Trace } from '#core/signal/trace/types';
import type { Aggregate, Performance, ReduceOptions } from './types';
import { peakWithin, windowMean } from './windowMeans';

export interface LoadFigures {
  /** rise of the chosen aggregate, or its temperature where there is no ambient */
  series: Float64Array;
  found: FoundWindow;
  /** the window as it is found by itself, where one was set by hand */
  automatic: FoundWindow | null;
  mean: number | null;
  mean_se: number | null;
  peak: number | null;
  fixed: number | null;
  fit: Approach | null;
  /** step of the coarsest sensor in the series, K */
  resolution: number | null;
}

/** Window, steadiness and the value under every school for the sustained load. */
export function evaluateLoad(
  rises: RiseSeries,
  load: Span,
  sustained: Span,
  aggregate: Aggregate,
  period: number,
  options: ReduceOptions,
): LoadFigures {
  const { series, resolution } = aggregateSeries(rises, aggregate, options.sensor, sustained, options.window_s);
  const automatic = widenedWindow(rises.t, series, sustained, options, period);
  const found = options.window ? givenWindow(rises.t, series, options.window, options.slope_k_per_min) : automatic;
  const inWindow = windowMean(rises.t, series, found.window);
  const whole = within(rises.t, series, sustained);
  return {
    series,
    found,
    automatic: options.window ? automatic : null,
    mean: inWindow?.mean ?? null,
    mean_se: found.test ? flooredSe(found.test.sd / Math.sqrt(found.test.n_eff), resolution) : null,
    peak: whole.values.length > 0 ? peakWithin(rises.t, series, sustained) : null,
    fixed: options.at_s === null ? null : nearest(rises.t, series, load.start_s + options.at_s),
    fit: fitApproach(whole.t, whole.values),
    resolution,
  };
}

/** Times the window's length that are tried where none of its own length is steady. */
const WIDER = [1, 2, 4, 8];

/** The last steady window of the study's length; where the log is too noisy for that, of the shortest longer one that is steady. */
function widenedWindow(
  t: Float64Array,
  series: Float64Array,
  sustained: Span,
  { window_s, slope_k_per_min }: ReduceOptions,
  period: number,
): FoundWindow {
  const narrow = findWindow(t, series, sustained, window_s, slope_k_per_min, period);
  if (narrow.steady) return narrow;
  for (const times of WIDER.slice(1)) {
    if (times * window_s > sustained.end_s - sustained.start_s) break;
    const found = findWindow(t, series, sustained, times * window_s, slope_k_per_min, period);
    if (found.steady) return found;
  }
  return narrow;
}

/** A window set by hand is judged like any other. */
function givenWindow(t: Float64Array, values: Float64Array, window: Span, limit: number): FoundWindow {
  const part = within(t, values, window);
  const test = slopeTest(part.t, part.values, limit);
  return { window, test, steady: test?.steady ?? false, steady_at_s: null };
}

/** The series a run is judged by: one named sensor, the mean of all, or the one with the hottest window mean. */
export function aggregateSeries(
  rises: RiseSeries,
  aggregate: Aggregate,
  name: string | null,
  sustained: Span,
  windowS: number,
): { series: Float64Array; resolution: number | null } {
  const coarsest = rises.sensors.reduce<number | null>(
    (r, s) => (s.channel.resolution === null ? r : Math.max(r ?? 0, s.channel.resolution)),
    null,
  );
  const named = aggregate === 'named' ? rises.sensors.find((s) => s.channel.name === name) : undefined;
  if (named) return { series: overAmbient(rises, named.temperature), resolution: named.channel.resolution };
  if (aggregate !== 'hottest')
    return { series: overAmbient(rises, meanOfSeries(rises.sensors.map((s) => s.temperature))), resolution: coarsest };
  const span: Span = { start_s: sustained.end_s - windowS, end_s: sustained.end_s };
  const end = cutRises(rises, ...rangeOf(rises.t, span));
  const levels = end.sensors.map((s) => windowMean(end.t, overAmbient(end, s.temperature), span)?.mean ?? Number.NEGATIVE_INFINITY);
  const hottest = rises.sensors[levels.indexOf(Math.max(...levels))];
  return { series: overAmbient(rises, hottest.temperature), resolution: hottest.channel.resolution };
}

/** A quantised sensor never tells a mean better than its step allows (uniform distribution over one step). */
export const flooredSe = (se: number, resolution: number | null): number => Math.max(se, (resolution ?? 0) / Math.sqrt(12));

function nearest(t: Float64Array, values: Float64Array, at: number): number | null {
  let best = -1;
  for (let i = 0; i < t.length; i++) {
    if (!Number.isNaN(values[i]) && (best < 0 || Math.abs(t[i] - at) < Math.abs(t[best] - at))) best = i;
  }
  return best < 0 ? null : values[best];
}

/** The run value by the chosen school, with its standard error and the half width of its 95 % interval. */
export function chosenValue(main: LoadFigures, options: ReduceOptions): { rise: number | null; se: number | null; half: number | null } {
  const single = main.found.test ? flooredSe(main.found.test.sd, main.resolution) : flooredSe(0, main.resolution);
  switch (options.value) {
    case 'mean':
      return { rise: main.mean, se: main.mean_se, half: main.found.test && meanHalfWidth(main.found.test, main.resolution) };
    case 'peak':
      return { rise: main.peak, se: single, half: 1.96 * single };
    case 'fixed':
      return { rise: main.fixed, se: single, half: 1.96 * single };
    case 'fitted':
      return fittedValue(main);
  }
}

function fittedValue({ fit, resolution }: LoadFigures): { rise: number | null; se: number | null; half: number | null } {
  if (!fit) return { rise: null, se: null, half: null };
  const se = flooredSe(fit.plateau_se, resolution);
  return { rise: fit.plateau, se, half: 1.96 * se };
}

/** Rise at the steady end of the idle stage; null where it is not steady. */
export function idleRise(rises: RiseSeries, series: Float64Array, idle: Span, options: ReduceOptions): number | null {
  const length = Math.min(options.window_s, idle.end_s - idle.start_s);
  const span: Span = { start_s: idle.end_s - length, end_s: idle.end_s };
  const part = within(rises.t, series, span);
  const trend = slopeTest(part.t, part.values, options.slope_k_per_min);
  return trend?.steady ? trend.mean : null;
}

/** What the log itself says of the part's work under load: its last score, and its frames; null where it says nothing. */
export function loggedPerformance(trace: Trace, load: Span | null, power: number | null): Performance | null {
  if (!load) return null;
  const find = (role: 'score' | 'frame') => trace.channels.find((c) => c.role === role);
  // a score may be written when the program has ended
  const scores = find('score');
  const known = scores ? within(scores.t, scores.values, { start_s: load.start_s, end_s: Number.POSITIVE_INFINITY }).values : [];
  const score = known.length > 0 ? known[known.length - 1] : null;
  const frames = find('frame');
  const values = frames ? within(frames.t, frames.values, load).values : new Float64Array(0);
  // a column in a unit of time holds frame times (kept in seconds), any other holds rates
  const times = frames?.unit === 's' || frames?.unit === 'ms' ? values.map((v) => 1000 * v) : values.map((v) => 1000 / v);
  const figures = frameFigures(times);
  if (score === null && !figures) return null;
  return {
    score,
    run_time_s: null,
    frame_rate: figures?.frame_rate ?? null,
    slow_frame_rate: figures?.slow_frame_rate ?? null,
    frame_time_ms: figures?.frame_time_ms ?? null,
    score_per_w: score !== null && power ? score / power : null,
  };
}
