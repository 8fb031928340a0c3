import { mean, standardDeviation } from '../stats/moments';
import { within } from '../trace/series';
import { type Span, type Trace, usable } from '../trace/types';

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
  return { mean: mean(part), sd, min: part.reduce((a, b) => Math.min(a, b)), max: part.reduce((a, b) => Math.max(a, b)) };
}

/** Window mean of the channels of a role; several fans, powers or clocks were already narrowed to one, sound levels and fans are averaged. */
export function roleMean(trace: Trace, role: 'power' | 'clock' | 'fan' | 'noise' | 'coolant', span: Span | null): WindowMean | null {
  if (!span) return null;
  const [channel] = usable(trace, role);
  return channel ? windowMean(channel.t, channel.clean, span) : null;
}
