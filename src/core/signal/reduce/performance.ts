import { frameFigures } from '#core/signal/performance/frames';
import { within } from '#core/signal/trace/series';
import type { Span, Trace } from '#core/signal/trace/types';
import type { Performance } from './types';

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
