import { runningMedian } from '#core/stats/quantiles';
import { interpolate, meanOfSeries } from './series';
import type { Channel, Drive } from './types';

/** Half width in samples of a running median over the given seconds. */
export function halfWidth(seconds: number, period: number): number {
  return Math.floor(seconds / 2 / period + 1e-9);
}

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
