import { lowerBound } from '#core/stats/quantiles';
import type { Span } from './types';

/** Index range [from, to) of the samples inside a span. */
export const rangeOf = (t: Float64Array, span: Span): [number, number] => [lowerBound(t, span.start_s), lowerBound(t, span.end_s)];

/** Known values of a series inside a span, with their times; not a copy where none is missing. */
export function within(t: Float64Array, values: Float64Array, span: Span): { t: Float64Array; values: Float64Array } {
  const [from, to] = rangeOf(t, span);
  let whole = from;
  while (whole < to && !Number.isNaN(values[whole])) whole++;
  if (whole === to) return { t: t.subarray(from, to), values: values.subarray(from, to) };
  const times = new Float64Array(to - from);
  const kept = new Float64Array(to - from);
  let n = 0;
  for (let i = from; i < to; i++) {
    if (Number.isNaN(values[i])) continue;
    times[n] = t[i];
    kept[n++] = values[i];
  }
  return { t: times.subarray(0, n), values: kept.subarray(0, n) };
}

/**
 * Linear interpolation of a series at other times; the series itself where it is known at all of them. NaN where the neighbours are further
 * apart than the widest allowed step, so that nothing is made up inside a gap; beyond the ends a value holds for one such step.
 * @param widest largest distance in seconds across which a line is drawn
 */
export function interpolate(t: Float64Array, values: Float64Array, at: Float64Array, widest: number): Float64Array {
  const known = within(t, values, { start_s: Number.NEGATIVE_INFINITY, end_s: Number.POSITIVE_INFINITY });
  if (known.t.length === t.length && isSameAxis(at, t)) return values;
  const out = new Float64Array(at.length).fill(Number.NaN);
  const n = known.t.length;
  if (n === 0) return out;
  let j = 0;
  for (let i = 0; i < at.length; i++) {
    while (j < n && known.t[j] < at[i]) j++;
    if (j < n && known.t[j] === at[i]) out[i] = known.values[j];
    else if (j === 0) {
      if (known.t[0] - at[i] <= widest) out[i] = known.values[0];
    } else if (j === n) {
      if (at[i] - known.t[n - 1] <= widest) out[i] = known.values[n - 1];
    } else {
      const step = known.t[j] - known.t[j - 1];
      if (step <= widest) out[i] = known.values[j - 1] + ((known.values[j] - known.values[j - 1]) * (at[i] - known.t[j - 1])) / step;
    }
  }
  return out;
}

/** True where both are the same stretch of the same memory. */
const isSameAxis = (a: Float64Array, b: Float64Array): boolean =>
  a === b || (a.buffer === b.buffer && a.byteOffset === b.byteOffset && a.length === b.length);

/** Mean of several series sample by sample; NaN where any of them is missing. */
export function meanOfSeries(series: Float64Array[]): Float64Array {
  const out = new Float64Array(series[0]?.length ?? 0);
  for (const s of series) for (let i = 0; i < out.length; i++) out[i] += s[i];
  for (let i = 0; i < out.length; i++) out[i] /= series.length;
  return out;
}

/** Several series one after the other. */
export function joinSeries(...parts: Float64Array[]): Float64Array {
  const out = new Float64Array(parts.reduce((total, p) => total + p.length, 0));
  let at = 0;
  for (const p of parts) {
    out.set(p, at);
    at += p.length;
  }
  return out;
}
