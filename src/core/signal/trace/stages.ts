import { median, runningMedian } from '#core/stats/quantiles';
import { twoLevels } from './levels';
import { interpolate, meanOfSeries } from './series';
import { type LoadRange, loadFromTemperature } from './temperatureLoad';
import type { Channel, Drive, Span } from './types';

export interface StageSpan extends Span {
  stage: 'idle' | 'boost' | 'sustained' | 'cooldown';
}

/** Shortest stretch that counts as a level of its own, s. */
const LEVEL_S = 20;
/** A boost right at the start of the load may be shorter. */
const FIRST_LEVEL_S = 10;
const LEVEL_CHANGE = 0.05;

/**
 * Splits a run into idle, boost, sustained and cool-down.
 * @param causedByThrottle whether a change of the drive at a time was the governor's doing; such a change does not split
 * @returns null where the drive shows no load
 */
export function findStages(drive: Drive, causedByThrottle: (at_s: number) => boolean): StageSpan[] | null {
  const load = drive.kind === 'temperature' ? loadFromTemperature(drive) : loadFromLevel(drive);
  if (!load) return null;
  const start = drive.t[0];
  const end = drive.t[drive.t.length - 1];
  const edges = splitLevels(drive, load).filter((at) => !causedByThrottle(at));
  const cuts = [drive.t[load.from], ...edges, load.to < drive.t.length ? drive.t[load.to] : end];
  const stages: StageSpan[] = [];
  if (cuts[0] > start) stages.push({ stage: 'idle', start_s: start, end_s: cuts[0] });
  for (let i = 0; i + 1 < cuts.length; i++)
    stages.push({ stage: i + 2 < cuts.length ? 'boost' : 'sustained', start_s: cuts[i], end_s: cuts[i + 1] });
  const last = cuts[cuts.length - 1];
  if (load.to < drive.t.length) stages.push({ stage: 'cooldown', start_s: last, end_s: end });
  return stages;
}

/** The longest stretch above the threshold between idle and load; dips shorter than 20 s do not end it. */
function loadFromLevel(drive: Drive): LoadRange | null {
  const levels = twoLevels(drive);
  if (!levels) return null;
  const { threshold } = levels;
  let best: LoadRange | null = null;
  let from = -1;
  let lastHigh = -1;
  const close = () => {
    if (from < 0) return;
    const range = { from, to: lastHigh + 1 };
    if (!best || drive.t[range.to - 1] - drive.t[range.from] > drive.t[best.to - 1] - drive.t[best.from]) best = range;
    from = -1;
  };
  for (let i = 0; i < drive.t.length; i++) {
    if (from >= 0 && drive.t[i] - drive.t[lastHigh] > LEVEL_S && !(drive.values[i] > threshold)) close();
    if (drive.values[i] > threshold) {
      if (from < 0) from = i;
      lastHigh = i;
    }
  }
  close();
  return best;
}

/** Times inside the load at which the level changes by over 5 % for over 20 s. */
function splitLevels(drive: Drive, load: LoadRange): number[] {
  if (drive.kind === 'temperature') return [];
  const values = drive.values.subarray(load.from, load.to);
  const t = drive.t.subarray(load.from, load.to);
  // levels last for many seconds, so that of denser samples about one a second tells them; where they change is sought among all
  const every = Math.max(1, Math.floor(1 / drive.period_s));
  const thin = every === 1 ? values : Float64Array.from({ length: Math.ceil(values.length / every) }, (_, i) => values[i * every]);
  const h = Math.max(1, halfWidth(LEVEL_S, drive.period_s * every));
  const level = runningMedian(thin, h);
  const left = (i: number) => level[i - h - 1];
  const right = (i: number) => level[Math.min(i + h, thin.length - 1)];
  const changes = (i: number) => Math.abs(right(i) / left(i) - 1) > LEVEL_CHANGE;
  const cuts: number[] = [];
  for (let i = h + 1; i < thin.length - h; i++) {
    if (!changes(i)) continue;
    const from = i;
    while (i + 1 < thin.length - h && changes(i + 1)) i++;
    cuts.push(locateStep(values, Math.max(0, (from - h) * every), Math.min(values.length, (i + h) * every), left(from), right(i)));
  }
  return mergeLevels(values, t, cuts).map((i) => t[i]);
}

/** Index in [from, to) at which two levels explain the samples best, by absolute deviations. */
function locateStep(values: Float64Array, from: number, to: number, before: number, after: number): number {
  let cost = 0;
  for (let i = from; i < to; i++) cost += Math.abs(values[i] - after);
  let best = cost;
  let at = from;
  for (let i = from; i < to; i++) {
    cost += Math.abs(values[i] - before) - Math.abs(values[i] - after);
    if (cost < best) {
      best = cost;
      at = i + 1;
    }
  }
  return at;
}

/** Takes away cuts between levels that are alike, and levels that last too short to be one. */
function mergeLevels(values: Float64Array, t: Float64Array, cuts: number[]): number[] {
  const kept = [...cuts];
  for (;;) {
    const edges = [0, ...kept, values.length];
    const levels = edges.slice(1).map((to, i) => median(values.subarray(edges[i], to)));
    const lasts = (i: number) => t[edges[i + 1] - 1] - t[edges[i]];
    const short = levels.length === 1 ? -1 : levels.findIndex((_, i) => lasts(i) < (i === 0 ? FIRST_LEVEL_S : LEVEL_S));
    if (short >= 0) {
      const nearerLeft =
        short === levels.length - 1 ||
        (short > 0 && Math.abs(levels[short] - levels[short - 1]) <= Math.abs(levels[short] - levels[short + 1]));
      kept.splice(nearerLeft ? short - 1 : short, 1);
      continue;
    }
    const alike = levels.findIndex((v, i) => i > 0 && Math.abs(v / levels[i - 1] - 1) <= LEVEL_CHANGE);
    if (alike < 0) return kept;
    kept.splice(alike - 1, 1);
  }
}

/** Half width in samples of a running median over the given seconds. */
export const halfWidth = (seconds: number, period: number): number => Math.floor(seconds / 2 / period + 1e-9);

/** The drive of a run; null without any channel that could serve. */
export function driveOf(channels: Channel[]): Drive | null {
  for (const kind of ['power', 'clock', 'load'] as const) {
    const channel = channels.find((c) => c.role === kind && !c.dead);
    if (!channel) continue;
    return { kind, t: channel.t, values: runningMedian(channel.values, halfWidth(5, channel.period_s)), period_s: channel.period_s };
  }
  const sensors = channels.filter((c) => c.role === 'sensor' && !c.dead && !c.stuck);
  if (sensors.length === 0) return null;
  const { t, period_s } = sensors[0];
  const level = meanOfSeries(sensors.map((s) => (s.t === t ? s.clean : interpolate(s.t, s.clean, t, 4 * s.period_s))));
  return { kind: 'temperature', t, values: runningMedian(level, halfWidth(5, period_s)), period_s };
}
