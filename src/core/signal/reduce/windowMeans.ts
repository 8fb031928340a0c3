import { rangeOf, within } from '#core/signal/trace/series';
import { type Span, type Trace, usable } from '#core/signal/trace/types';
import { mean, standardDeviation } from '#core/stats/moments';

export interface WindowMean {
  mean: number;
  sd: number;
  min: number;
  max: number;
}

/** Mean, scatter and range of the known values of a series inside a span; null where there are none. */
export function windowMean(t: Float64Array, values: Float64Array, span: Span): WindowMean | null {
  const part = within(t, values, span).values;
  if (part.length === 0) return null;
  const sd = part.length > 1 ? standardDeviation(part) : 0;
  let [min] = part;
  let max = min;
  for (let i = 1; i < part.length; i++) {
    if (part[i] < min) min = part[i];
    else if (part[i] > max) max = part[i];
  }
  return { mean: mean(part), sd, min, max };
}

/**
 * Window mean of the channels of a role; several fans, powers or clocks were already narrowed to one, sound levels and fans are averaged.
 */
export function roleMean(
  trace: Trace,
  role: 'power' | 'clock' | 'fan' | 'noise' | 'coolant' | 'exhaust',
  span: Span | null,
): WindowMean | null {
  if (!span) return null;
  const [channel] = usable(trace, role);
  return channel ? windowMean(channel.t, channel.clean, span) : null;
}

/** Highest known value of a series inside a span; −∞ where there is none. */
export function peakWithin(t: Float64Array, values: Float64Array, span: Span): number {
  const [from, to] = rangeOf(t, span);
  let peak = Number.NEGATIVE_INFINITY;
  for (let i = from; i < to; i++) if (values[i] > peak) peak = values[i];
  return peak;
}
