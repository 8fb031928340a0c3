import type { Log, LogColumn } from '../logs/types';
import { median } from '../stats/quantiles';
import { isTemperature } from '../units/units';
import { alignLog } from './align';
import { driveOf } from './drive';
import { flagSpikes, isDead, isStuck } from './quality';
import type { Channel, Trace } from './types';

/**
 * Puts the logs of one run on one clock and checks their channels: spikes, dead and stuck sensors.
 * @param logs the first is the reference of the clock
 * @param offsets seconds to add to a file's times, where given by a person
 */
export function buildTrace(logs: Log[], offsets: Record<string, number> = {}): Trace {
  const [first, ...others] = logs;
  const clockOffset: Record<string, number> = {};
  const correlated: Record<string, number> = {};
  for (const log of others) {
    const { offset_s, correlation } = alignLog(first, log, offsets[log.file]);
    clockOffset[log.file] = offset_s;
    if (correlation !== null) correlated[log.file] = correlation;
  }
  const channels = logs.flatMap((log) => channelsOf(log, clockOffset[log.file] ?? 0));
  markBadSensors(channels);
  const [a] = logs;
  return {
    files: logs.map(({ file, time, rows }) => ({ name: file, time, rows })),
    channels,
    clock_offset_s: clockOffset,
    correlated,
    samples: a.t.length,
    period_s: periodOf(a.t),
    duration_s: a.t[a.t.length - 1],
  };
}

function channelsOf(log: Log, offset: number): Channel[] {
  const t = offset === 0 ? log.t : log.t.map((s) => s + offset);
  const period = periodOf(log.t);
  return log.columns.filter((c) => c.role !== 'ignore').map((c) => channelOf(log.file, c, t, period));
}

function channelOf(file: string, column: LogColumn, t: Float64Array, period: number): Channel {
  const flags = isTemperature(column.unit) ? flagSpikes(column.values, column.resolution) : new Uint8Array(0);
  const spikes = flags.reduce((n, f) => n + f, 0);
  return {
    name: column.name,
    file,
    role: column.role,
    unit: column.unit,
    t,
    values: column.values,
    clean: spikes === 0 ? column.values : column.values.map((v, i) => (flags[i] ? Number.NaN : v)),
    resolution: column.resolution,
    period_s: period,
    missing: column.values.reduce((n, v) => n + (Number.isNaN(v) ? 1 : 0), 0),
    spikes,
    stuck: false,
    dead: false,
  };
}

function markBadSensors(channels: Channel[]): void {
  for (const c of channels) c.dead = c.missing === c.values.length;
  const watched = channels.filter((c) => c.role === 'sensor' || c.role === 'coolant');
  for (const c of watched) {
    const others = watched.filter((o) => o !== c).map((o) => median(o.values));
    c.dead ||= isDead(c.values, others.length > 0 ? median(others) : 0);
  }
  const drive = driveOf(channels);
  if (!drive || drive.kind === 'temperature') return;
  for (const c of watched) if (!c.dead) c.stuck = isStuck(c, drive);
}

function periodOf(t: Float64Array): number {
  const steps = new Float64Array(t.length - 1);
  for (let i = 1; i < t.length; i++) steps[i - 1] = t[i] - t[i - 1];
  return median(steps);
}
