import type { Finding } from '#core/compare/types';
import type { StageSpan } from '#core/signal/trace/stages';
import { findThrottling } from '#core/signal/trace/throttle';
import { type Span, type Trace, usable } from '#core/signal/trace/types';
import { write } from '#core/text/words';
import type { ReduceOptions, Reduction } from './types';
import { peakWithin } from './windowMeans';

/** Share of throttled samples above which a run is censored. */
const CENSOR_SHARE = 0.005;
/** Distance from the limit within which an unthrottled run is noted, K. */
const NEAR_K = 3;
/** A part that stays further below its limit than this did not throttle, K. */
const FAR_K = 5;

export interface ThrottleJudgement {
  /** of the span the value rests on; null where nothing can tell */
  share: number | null;
  /** throttled where the value is taken: the rise is a lower bound */
  censored: boolean;
  events: Reduction['events'];
  times_to: Reduction['times_to'];
  findings: Finding[];
}

/** Judges a run by its throttled samples: censored, throttled elsewhere, near the limit, or none of it. */
export function judgeThrottling(
  trace: Trace,
  stages: StageSpan[],
  load: Span,
  sustained: Span,
  window: Span | null,
  options: ReduceOptions,
): ThrottleJudgement {
  const levels = stages.filter((s) => s.stage === 'boost' || s.stage === 'sustained');
  const throttling = findThrottling(trace, load, levels, options.limit_c);
  const span = restsOn(options, load, sustained, window);
  // a part that never came near its limit did not throttle, whatever else was logged
  const never = options.limit_c !== null && hottest(trace, load) < options.limit_c - FAR_K;
  const share = span && (throttling.share(span) ?? (never ? 0 : null));
  const whole = throttling.share(sustained);
  const censored = share !== null && share > CENSOR_SHARE;
  const at = throttling.first(load);
  const events = at === null ? [] : [{ event: 'throttle', at_s: at, load_s: at - load.start_s }];
  const known = never || throttling.share(load) !== null;
  const times_to = known ? [{ event: 'throttle', s: (at ?? load.end_s) - load.start_s, reached: at !== null }] : [];
  return { share, censored, events, times_to, findings: throttleFindings(trace, load, share, whole, options.limit_c) };
}

/** Highest reading of any sensor under load, °C; NaN where only rises were logged or nothing was read. */
function hottest(trace: Trace, load: Span): number {
  const sensors = usable(trace, 'sensor');
  if (sensors.some((s) => s.rise)) return Number.NaN;
  const peak = Math.max(...sensors.map((s) => peakWithin(s.t, s.clean, load)));
  return Number.isFinite(peak) ? peak : Number.NaN;
}

/** The span a value rests on: window, whole sustained stage, or the load up to the instant. */
function restsOn(options: ReduceOptions, load: Span, sustained: Span, window: Span | null): Span | null {
  if (options.value === 'mean') return window;
  if (options.value === 'fixed' && options.at_s !== null) return { start_s: load.start_s, end_s: load.start_s + options.at_s };
  return sustained;
}

function throttleFindings(trace: Trace, load: Span, share: number | null, whole: number | null, limit: number | null): Finding[] {
  if (share !== null && share > CENSOR_SHARE) {
    const percent = write(100 * share, share < 0.1 ? 1 : 0);
    const message = `Throttled for ${percent} % of the span the value rests on: ΔT is at or above the figure shown, and left out of means.`;
    return [{ code: 'throttled', severity: 'reject', message, numbers: { share } }];
  }
  if (whole !== null && whole > CENSOR_SHARE) {
    const message = `Throttled for ${write(100 * whole, 1)} % of the sustained load, but not where the value is taken.`;
    return [{ code: 'throttled_early', severity: 'warn', message, numbers: { share: whole } }];
  }
  if (limit === null || (whole ?? 0) > 0) return [];
  const peak = hottest(trace, load);
  if (!(peak > limit - NEAR_K)) return [];
  const message = `The hottest reading of ${write(peak, 1)} °C comes within ${NEAR_K} K of the limit of ${write(limit, 0)} °C.`;
  return [{ code: 'near_limit', severity: 'note', message, numbers: { peak_c: peak } }];
}
