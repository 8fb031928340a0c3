import type { Finding } from '#core/compare/types';
import { ambientProbes, type RiseSeries } from '#core/signal/trace/rise';
import { meanOfSeries, within } from '#core/signal/trace/series';
import { type Channel, type Span, type Trace, usable } from '#core/signal/trace/types';
import { median } from '#core/stats/quantiles';
import { write } from '#core/text/words';
import type { ReduceOptions } from './types';
import { windowMean } from './windowMeans';

/** A probe stands still where one value lasts longer than this, s, and than so many times its longest earlier stretch. */
const FROZEN_S = 600;
const FROZEN_TIMES = 5;
/** Steps this fine move with every breath of the room, K. */
const FINE_K = 0.05;
/** Movement of another probe that a frozen one would have seen, in its steps. */
const MOVED_STEPS = 3;
/** Longest stretch of the window without a reading that is drawn across: periods of the probe, or seconds. */
const GAP_PERIODS = 3;
const GAP_S = 600;
/** Spans around the load step by which a probe is held against the part, s, and fewest readings on each side. */
const BEFORE_S = 60;
const AFTER_S = 120;
const FEWEST = 3;
/** Shares of the part's own step from which a probe stands in warm air, and on the part. */
const AIRFLOW_SHARE = 0.1;
const ON_PART_SHARE = 0.5;
/** Rise below which something is wrong with the room, K, under nought and under the idle rise. */
const IMPOSSIBLE_K = 2;
const FASTER_FAN = 1.2;
/** A step of the room that shows columns swapped, K, and the share of it that the sensors stay below. */
const SWAPPED_K = 3;
const SWAPPED_SHARE = 0.3;

/** What the window and the stages say of the run, as far as the room is judged by them. */
export interface AmbientContext {
  load: Span | null;
  window: Span | null;
  rise_k: number | null;
  idle_rise_k: number | null;
  idle: { power_w: number | null; fan_rpm: number | null };
  loaded: { power_w: number | null; fan_rpm: number | null };
  coolant_c: number | null;
  ambient_c: number | null;
}

/** Probes of the room that show nothing at all; left out already. */
export const deadProbes = (trace: Trace): Finding[] =>
  trace.channels
    .filter((c) => c.role === 'ambient' && c.dead)
    .map((c) => ({
      code: 'ambient_dead',
      severity: 'warn' as const,
      message: `${c.name} has no usable reading: all are missing, impossible, or outside what air can be. It is not used; check the probe and its cable.`,
    }));

/** What is doubtful about the room that the rise is taken over: each finding says what was seen and what would settle it. */
export function ambientTrust(trace: Trace, rises: RiseSeries | null, seen: AmbientContext, options: ReduceOptions): Finding[] {
  const probes = ambientProbes(trace);
  const { window } = seen;
  const swapped = swappedFinding(probes, rises, seen.load);
  return [
    ...probes.filter((c) => c.constant).map((c) => constantFinding(c)),
    ...(window
      ? probes.flatMap((c) => [...frozenFindings(c, probes, trace, window, options), ...gapFindings(c, trace.duration_s, window)])
      : []),
    ...(window ? disagreement(probes, window, options.ambient_disagree_k) : []),
    ...(swapped ? [swapped] : probes.flatMap((c) => followFindings(c, rises, seen.load))),
    ...(swapped ? [] : impossibleFindings(seen)),
  ];
}

function constantFinding(c: Channel): Finding {
  const value = c.clean.find((v) => !Number.isNaN(v)) as number;
  const message = `${c.name} shows ${write(value, 1)} °C all through: it counts as one entered value of the room, whose changes are unknown.`;
  return { code: 'ambient_typed', severity: 'warn', message, numbers: { room_c: value } };
}

/** Longest stretch of one value that overlaps the window, and the longest that ended before it began. */
function stillStretch(c: Channel, window: Span): { from_s: number; to_s: number; before_s: number; value: number } | null {
  let found: { from_s: number; to_s: number; before_s: number; value: number } | null = null;
  let longest = 0;
  let start = 0;
  let first = -1;
  let last = 0;
  const close = () => {
    const lasts = last - start;
    const overlaps = start < window.end_s && last >= window.start_s;
    if (overlaps && (!found || lasts > found.to_s - found.from_s))
      found = { from_s: start, to_s: last, before_s: longest, value: c.clean[first] };
    if (lasts > longest) longest = lasts;
  };
  for (let i = 0; i < c.clean.length; i++) {
    if (Number.isNaN(c.clean[i])) continue;
    if (first < 0 || c.clean[i] !== c.clean[first]) {
      if (first >= 0) close();
      first = i;
      start = c.t[i];
    }
    last = c.t[i];
  }
  if (first >= 0) close();
  return found;
}

function frozenFindings(c: Channel, probes: Channel[], trace: Trace, window: Span, options: ReduceOptions): Finding[] {
  if (c.constant) return [];
  const still = stillStretch(c, window);
  if (!still || still.to_s - still.from_s <= Math.max(FROZEN_S, FROZEN_TIMES * still.before_s)) return [];
  const minutes = write((still.to_s - still.from_s) / 60, 0);
  const numbers = { lasts_s: still.to_s - still.from_s, value_c: still.value };
  if (still.value === 0 && still.to_s - still.from_s >= 0.99 * trace.duration_s) {
    const parts = usable(trace, 'sensor').map((s) => median(s.clean));
    if (parts.length === 0 || median(parts) <= 15) return [];
    const message = `${c.name} shows 0.0 °C all through beside a part at ${write(median(parts), 0)} °C: it does not measure the room.`;
    return [{ code: 'ambient_frozen', severity: 'decide', message, numbers }];
  }
  const step = Math.max(c.resolution ?? 0, options.probe_resolution_k[c.name] ?? 0);
  const span: Span = { start_s: still.from_s, end_s: still.to_s };
  const others = probes.filter((p) => p !== c && !p.constant);
  const moved = others.find((p) => rangeWithin(p, span) > MOVED_STEPS * Math.max(step, p.resolution ?? 0));
  if (step > FINE_K && !moved) {
    const message = `${c.name} shows ${write(still.value, 1)} °C for ${minutes} min; at steps of ${write(step, 2)} K the room itself may be that constant.`;
    return [{ code: 'ambient_frozen', severity: 'note', message, numbers }];
  }
  const why = moved ? `while ${moved.name} moved by ${write(rangeWithin(moved, span), 1)} K` : `although it resolves ${write(step, 2)} K`;
  const message = `${c.name} stays at ${write(still.value, 2)} °C for ${minutes} min, ${why}: it has most likely stopped measuring.`;
  return [{ code: 'ambient_frozen', severity: 'decide', message, numbers }];
}

/** Spread of a probe's readings within a span, its highest and lowest single ones left out. */
function rangeWithin(c: Channel, span: Span): number {
  const sorted = within(c.t, c.clean, span).values.slice().sort();
  if (sorted.length < 3) return 0;
  const cut = sorted.length > 40 ? Math.floor(sorted.length / 20) : 0;
  return sorted[sorted.length - 1 - cut] - sorted[cut];
}

function gapFindings(c: Channel, duration: number, window: Span): Finding[] {
  if (c.constant) return [];
  const known = within(c.t, c.clean, { start_s: Number.NEGATIVE_INFINITY, end_s: Number.POSITIVE_INFINITY }).t;
  const allowed = Math.max(GAP_PERIODS * c.period_s, GAP_S);
  let longest = 0;
  const stretch = (from: number, to: number) => {
    if (from < window.end_s && to > window.start_s && to - from > longest) longest = to - from;
  };
  if (known.length === 0) return [];
  stretch(Math.min(0, known[0]), known[0]);
  for (let i = 1; i < known.length; i++) stretch(known[i - 1], known[i]);
  stretch(known[known.length - 1], Math.max(duration, known[known.length - 1]));
  if (longest <= allowed) return [];
  const message = `${c.name} has no usable reading for ${write(longest / 60, 0)} min around the averaging window; up to ${write(allowed / 60, 0)} min are interpolated. Its last reading is used.`;
  return [{ code: 'ambient_gaps', severity: 'decide', message, numbers: { longest_s: longest } }];
}

function disagreement(probes: Channel[], window: Span, allowed: number): Finding[] {
  const levels = probes.flatMap((c) => {
    const values = within(c.t, c.clean, { start_s: window.start_s - c.period_s, end_s: window.end_s + c.period_s }).values;
    return values.length === 0 ? [] : [{ name: c.name, level: median(values) }];
  });
  if (levels.length < 2) return [];
  const low = levels.reduce((a, b) => (b.level < a.level ? b : a));
  const high = levels.reduce((a, b) => (b.level > a.level ? b : a));
  if (high.level - low.level <= allowed) return [];
  const message = `${high.name} reads ${write(high.level, 1)} °C and ${low.name} ${write(low.level, 1)} °C in the window; probes of one place may differ by ${write(allowed, 1)} K. Say which one measures the room.`;
  return [{ code: 'ambient_disagree', severity: 'decide', message, numbers: { difference_k: high.level - low.level } }];
}

/** Change of a series across the load step: the two minutes after it less the minute before; null where too little was read. */
function stepOf(t: Float64Array, values: Float64Array, at: number): number | null {
  const before = within(t, values, { start_s: at - BEFORE_S, end_s: at }).values;
  const after = within(t, values, { start_s: at, end_s: at + AFTER_S }).values;
  if (before.length < FEWEST || after.length < FEWEST) return null;
  const mean = (v: Float64Array) => v.reduce((s, x) => s + x, 0) / v.length;
  return mean(after) - mean(before);
}

const partStep = (rises: RiseSeries, at: number): number | null =>
  stepOf(rises.t, meanOfSeries(rises.sensors.map((s) => s.temperature)), at);

function followFindings(c: Channel, rises: RiseSeries | null, load: Span | null): Finding[] {
  if (!rises || !load || c.constant) return [];
  const own = stepOf(c.t, c.clean, load.start_s);
  const part = partStep(rises, load.start_s);
  if (own === null || part === null || !(part > 0) || own < Math.max(1, 3 * (c.resolution ?? 0))) return [];
  const share = own / part;
  const percent = write(100 * share, 0);
  if (share > ON_PART_SHARE) {
    const message = `${c.name} rises with the load by ${write(own, 1)} K, ${percent} % of the part's own step: it touches the part or its cooler and does not measure the air.`;
    return [{ code: 'ambient_on_part', severity: 'decide', message, numbers: { share } }];
  }
  if (share <= AIRFLOW_SHARE || c.place !== 'room') return [];
  const message = `${c.name} rises with the load by ${write(own, 1)} K, ${percent} % of the part's own step: it sits in warmed air, so ΔT reads too small.`;
  return [{ code: 'ambient_in_airflow', severity: 'warn', message, numbers: { share } }];
}

/** Ambient and sensors taken for each other: the room follows the load step and the sensors do not. */
function swappedFinding(probes: Channel[], rises: RiseSeries | null, load: Span | null): Finding | null {
  if (!rises || !load) return null;
  const part = partStep(rises, load.start_s);
  const follows = probes.find((c) => (stepOf(c.t, c.clean, load.start_s) ?? 0) > SWAPPED_K);
  const step = follows && stepOf(follows.t, follows.clean, load.start_s);
  if (!follows || !step || part === null || part > SWAPPED_SHARE * step) return null;
  const message = `${follows.name} follows the load by ${write(step, 1)} K and the sensors do not: the columns of room and part are most likely swapped.`;
  return { code: 'rise_impossible', severity: 'decide', message };
}

function impossibleFindings({ rise_k, idle_rise_k, idle, loaded, coolant_c, ambient_c }: AmbientContext): Finding[] {
  if (rise_k === null) return [];
  const chilled = coolant_c !== null && ambient_c !== null && coolant_c < ambient_c;
  if (rise_k < -IMPOSSIBLE_K && !chilled) {
    const message = `The part reads ${write(-rise_k, 1)} K below the room under load, and no coolant below the room was logged: one of the two columns is misassigned.`;
    return [{ code: 'rise_impossible', severity: 'decide', message }];
  }
  const hotter = idle.power_w !== null && loaded.power_w !== null && loaded.power_w > idle.power_w;
  const faster = idle.fan_rpm !== null && loaded.fan_rpm !== null && loaded.fan_rpm > FASTER_FAN * idle.fan_rpm;
  if (idle_rise_k === null || !hotter || faster || rise_k >= idle_rise_k - IMPOSSIBLE_K) return [];
  const message = `ΔT under load, ${write(rise_k, 1)} K, is below the steady idle ΔT of ${write(idle_rise_k, 1)} K at more power and no faster fan: the column of the room or of the sensors is misassigned.`;
  return [{ code: 'rise_impossible', severity: 'decide', message }];
}

/** The coolest reading of the coolant in the window, °C; null where none was logged. */
export function coolantLevel(trace: Trace, window: Span | null): number | null {
  if (!window) return null;
  const levels = usable(trace, 'coolant').flatMap((c) => windowMean(c.t, c.clean, window)?.mean ?? []);
  return levels.length === 0 ? null : Math.min(...levels);
}
