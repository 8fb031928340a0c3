import type { Log, LogColumn } from '../logs/types';
import { median } from '../stats/quantiles';
import { isTemperature } from '../units/units';
import { alignLog } from './align';
import { driveOf } from './drive';
import { driveRange, flagSpikes, isDead, isStuck } from './quality';
import { ambientAt, ambientSeries } from './rise';
import type { Channel, Drive, Trace } from './types';

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
  const drive = markBadSensors(channels);
  addAmbient(channels);
  const [a] = logs;
  return {
    files: logs.map(({ file, time, rows }) => ({ name: file, time, rows })),
    channels,
    drive,
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
  let spikes = 0;
  for (let i = 0; i < flags.length; i++) spikes += flags[i];
  let missing = 0;
  for (let i = 0; i < column.values.length; i++) if (Number.isNaN(column.values[i])) missing++;
  return {
    name: column.name,
    file,
    role: column.role,
    unit: column.unit,
    t,
    values: column.values,
    clean: spikes === 0 ? column.values : column.values.map((v, i) => (flags[i] ? Number.NaN : v)),
    resolution: column.resolution,
    rise: column.rise,
    period_s: period,
    missing,
    spikes,
    stuck: false,
    dead: false,
  };
}

/** Marks dead and stuck sensors, and says what drives the run. */
function markBadSensors(channels: Channel[]): Drive | null {
  for (const c of channels) c.dead = c.missing === c.values.length;
  const watched = channels.filter((c) => c.role === 'sensor' || c.role === 'coolant');
  for (const c of watched) {
    const others = watched.filter((o) => o !== c);
    c.dead ||= isDead(c.values, () => (others.length > 0 ? median(others.map((o) => median(o.values))) : 0));
  }
  const drive = driveOf(channels);
  if (!drive || drive.kind === 'temperature') return drive;
  const range = driveRange(drive.values);
  for (const c of watched) if (!c.dead) c.stuck = isStuck(c, drive, range);
  return drive;
}

/** Columns that hold a rise become temperatures where the room was logged, so that limits and spreads are judged as everywhere. */
function addAmbient(channels: Channel[]): void {
  if (!channels.some((c) => c.rise)) return;
  const room = ambientSeries(channels);
  if (!room) return;
  for (const c of channels) {
    if (!c.rise) continue;
    const ambient = ambientAt(room, c.t);
    const raise = (values: Float64Array) => values.map((v, i) => v + ambient[i]);
    const clean = raise(c.clean);
    c.values = c.clean === c.values ? clean : raise(c.values);
    c.clean = clean;
    c.rise = false;
  }
}

/** Most steps that the usual one is told from; of more, as many are taken evenly. */
const MOST_STEPS = 100_000;

/** Usual time between samples, s. */
function periodOf(t: Float64Array): number {
  const stride = Math.max(1, Math.floor((t.length - 1) / MOST_STEPS));
  const steps = new Float64Array(Math.floor((t.length - 1) / stride));
  for (let i = 0; i < steps.length; i++) steps[i] = t[i * stride + 1] - t[i * stride];
  return median(steps);
}
