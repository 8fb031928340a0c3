import type { Finding } from '#core/compare/types';
import { slopeTest } from '#core/signal/steady/slopeTest';
import { ambientAt, ambientSeries } from '#core/signal/trace/rise';
import { within } from '#core/signal/trace/series';
import type { Span, Trace } from '#core/signal/trace/types';
import { write } from '#core/text/words';
import type { ReduceOptions, Reduction } from './types';
import { type WindowMean, windowMean } from './windowMeans';

/** Drift is judged over the longer of the window and this span ending with it, s. */
const DRIFT_SPAN_S = 900;

interface AmbientJudgement {
  figures: Reduction['ambient_c'];
  findings: Finding[];
}

/** Ambient in the window, its drift towards it, and what of that is a finding. */
export function ambientFigures(trace: Trace, load: Span, window: Span, options: ReduceOptions): AmbientJudgement {
  const findings: Finding[] = [];
  const length = Math.max(window.end_s - window.start_s, DRIFT_SPAN_S);
  const series = ambientSeries(trace, { start_s: window.end_s - length, end_s: window.end_s });
  if (!series) {
    const room = options.room_c;
    return { figures: room === null ? null : { mean: room, min: room, max: room, drift_k_per_h: null }, findings };
  }
  const figures = windowMean(series.t, series.values, window) ?? levelsAt(trace, window);
  if (!figures) return { figures: null, findings };
  const part = within(series.t, series.values, { start_s: window.end_s - length, end_s: window.end_s });
  const trend = slopeTest(part.t, part.values, Number.POSITIVE_INFINITY);
  const drift = trend === null ? null : 60 * trend.slope;
  if (trend && drift !== null && Math.abs(drift) - 60 * trend.reach > 1) {
    findings.push({
      code: 'ambient_drift',
      severity: 'warn',
      message: `Ambient drifted by ${write(drift, 1)} K/h towards the window; up to 1.0 is allowed. It is subtracted sample by sample, not adjusted.`,
      numbers: { drift_k_per_h: drift },
    });
  }
  const most = options.ambient_range_k;
  const whole = most === null ? null : ambientSeries(trace, load);
  const over = whole && windowMean(whole.t, whole.values, load);
  if (most !== null && over && over.max - over.min > most) {
    findings.push({
      code: 'ambient_range',
      severity: 'warn',
      message: `Ambient changed by ${write(over.max - over.min, 1)} K within the load; the study allows ${write(most, 1)} K.`,
      numbers: { range_k: over.max - over.min },
    });
  }
  const band = options.ambient_band_c;
  if (band && (figures.min < band[0] || figures.max > band[1])) {
    findings.push({
      code: 'ambient_band',
      severity: 'warn',
      message: `Ambient was ${write(figures.min, 1)} to ${write(figures.max, 1)} °C in the window, outside the study's ${write(band[0], 1)} to ${write(band[1], 1)} °C.`,
    });
  }
  return { figures: { mean: figures.mean, min: figures.min, max: figures.max, drift_k_per_h: drift }, findings };
}

/** A probe read less often than the window lasts: its interpolated level at the window's ends. */
function levelsAt(trace: Trace, window: Span): Pick<WindowMean, 'mean' | 'min' | 'max'> | null {
  const whole = ambientSeries(trace);
  if (!whole) return null;
  const [from, to] = ambientAt(whole, Float64Array.of(window.start_s, window.end_s));
  return Number.isNaN(from) || Number.isNaN(to) ? null : { mean: (from + to) / 2, min: Math.min(from, to), max: Math.max(from, to) };
}
