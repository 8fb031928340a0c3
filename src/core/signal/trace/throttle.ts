import { lowerBound, quantile, runningMedian } from '#core/stats/quantiles';
import { rangeOf } from './series';
import { halfWidth } from './stages';
import { type Channel, type Span, type Trace, usable } from './types';

const DROP = 0.97;
const NEAR_LIMIT_K = 1;

/** Throttled or not, over time, as one source tells it. */
interface Source {
  t: Float64Array;
  flags: Uint8Array;
}

interface Throttling {
  /** share of the samples in a span that throttle; null where nothing could tell */
  share(span: Span): number | null;
  /** time of the first throttled sample in a span */
  first(span: Span): number | null;
}

/** True where a sensor reads within 1 K of the limit around a time. */
function nearLimitAt(sensors: Channel[], limit: number | null, from: number, to: number): boolean {
  if (limit === null) return false;
  return sensors.some((s) => {
    const [a, b] = rangeOf(s.t, { start_s: from, end_s: to });
    for (let i = a; i < b; i++) if (s.clean[i] >= limit - NEAR_LIMIT_K) return true;
    return false;
  });
}

/**
 * Whether a change of level at a time was the governor's doing: the throttle flag is up around it, or a sensor is at the limit just before
 * and the clock, where one is logged, changes with it. A boost that ends at full clock is planned.
 */
export function throttleCauses(trace: Trace, limit: number | null): (at_s: number) => boolean {
  const sensors = usable(trace, 'sensor');
  const clocks = trace.channels.filter((c) => c.role === 'clock' && !c.dead);
  const flags = trace.channels.filter((c) => c.role === 'throttle');
  return (at) =>
    (nearLimitAt(sensors, limit, at - 20, at + 5) && (clocks.length === 0 || clocks.some((c) => changesAt(c, at)))) ||
    flags.some((f) => {
      const [from, to] = rangeOf(f.t, { start_s: at - 5, end_s: at + 10 });
      return f.values.subarray(from, to).some((v) => v > 0);
    });
}

/** Time over which a clock is read before and after a moment, s, and how long its governor may take. */
const CLOCK_S = 10;
const LATER_S = 5;

/** Whether a clock stands at another level after a moment than before it. */
function changesAt({ t, values }: Channel, at: number): boolean {
  const level = (from: number, to: number) => {
    const [a, b] = rangeOf(t, { start_s: from, end_s: to });
    return b > a ? quantile(values.subarray(a, b), 0.5) : Number.NaN;
  };
  const [before, after] = [level(at - CLOCK_S - LATER_S, at - LATER_S), level(at + LATER_S, at + LATER_S + CLOCK_S)];
  return Math.abs(after / before - 1) > 1 - DROP;
}

/**
 * Finds throttled samples: where the throttle channel says so, or where clock or power is below 97 % of its highest
 * 5 s median, in the whole load or in its own stage, and that drop began with a sensor within 1 K of the limit. Where a clock is logged,
 * the
 * power's drop counts only with it: a boost that ends at full clock is none.
 * @param load span of the whole load
 * @param levels spans of its stages
 */
export function findThrottling(trace: Trace, load: Span, levels: Span[], limit: number | null): Throttling {
  const sensors = usable(trace, 'sensor');
  const sources: Source[] = [];
  for (const c of trace.channels) {
    if (c.role === 'throttle') sources.push({ t: c.t, flags: raised(c.values) });
    // power adds what a clock tells only where there is none
    else if (c.role === 'power' && trace.channels.some((o) => o.role === 'clock' && !o.dead)) continue;
    else if ((c.role === 'clock' || c.role === 'power') && limit !== null && sensors.length > 0) {
      const flags = new Uint8Array(c.t.length);
      // where no sensor ever came near the limit, no drop began there
      const hot = nearLimitAt(sensors, limit, load.start_s - reachOf(c), load.end_s + c.period_s);
      if (hot) for (const span of [load, ...levels]) flagDrops(c, span, sensors, limit, flags);
      sources.push({ t: c.t, flags });
    }
  }
  if (sources.length === 0) return { share: () => null, first: () => null };
  const [base, ...others] = sources;
  const { flags } = base;
  for (const other of others) {
    if (!other.flags.includes(1)) continue;
    for (let i = 0; i < flags.length; i++) if (flags[i] === 0 && flagAt(other, base.t[i])) flags[i] = 1;
  }
  return {
    share(span) {
      const [from, to] = rangeOf(base.t, span);
      if (to <= from) return null;
      return flags.subarray(from, to).reduce((n, f) => n + f, 0) / (to - from);
    },
    first(span) {
      const [from, to] = rangeOf(base.t, span);
      const at = flags.subarray(from, to).indexOf(1);
      return at < 0 ? null : base.t[from + at];
    },
  };
}

/** 1 where a flag column is up. */
function raised(values: Float64Array): Uint8Array {
  const flags = new Uint8Array(values.length);
  for (let i = 0; i < values.length; i++) if (values[i] > 0) flags[i] = 1;
  return flags;
}

/** Seconds before a drop in which a sensor at the limit counts as its cause. */
const reachOf = (channel: Channel): number => Math.max(2, 2 * channel.period_s);

function flagDrops(channel: Channel, span: Span, sensors: Channel[], limit: number, flags: Uint8Array): void {
  const [from, to] = rangeOf(channel.t, span);
  const medians = runningMedian(channel.values.subarray(from, to), halfWidth(5, channel.period_s));
  const floor = DROP * quantile(medians, 1);
  let hot = false;
  for (let i = from; i < to; i++) {
    const below = channel.values[i] < floor;
    const before = i > from && channel.values[i - 1] < floor;
    if (below && !before) hot = nearLimitAt(sensors, limit, channel.t[i] - reachOf(channel), channel.t[i] + channel.period_s);
    if (below && hot) flags[i] = 1;
  }
}

/** The flag of the sample nearest in time. */
function flagAt(source: Source, t: number): boolean {
  const i = lowerBound(source.t, t);
  const nearest = i > 0 && (i === source.t.length || t - source.t[i - 1] < source.t[i] - t) ? i - 1 : i;
  return source.flags[nearest] === 1;
}
