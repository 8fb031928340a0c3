import { wordsOf } from '#core/signal/logs/roles';
import { type Log, type LogColumn, LogError } from '#core/signal/logs/types';
import { english } from '#core/signal/logs/words';
import { lowerBound, median } from '#core/stats/quantiles';
import { isTemperature } from '#core/units/units';
import { alignLog } from './align';
import { impossibleReadings } from './impossible';
import { driveRange, flagSpikes, isDead, isStuck, standsStill } from './quality';
import { ambientAt, ambientSeries } from './rise';
import { settleUnits } from './settleUnits';
import { driveOf } from './stages';
import { type AmbientChoice, type AmbientPlace, ANY_AMBIENT, type Channel, type Drive, type Trace } from './types';

/** Longest run that is read, h. */
const LONGEST_H = 1000;
/** What a further file holds beyond the first file's ends, s, so that its readings are known there too. */
const BEYOND_S = 1800;

/**
 * Puts the logs of one run on one clock, settles units and checks their channels: spikes, impossible readings, dead and stuck probes.
 * @param logs the first is the reference of the clock
 * @param offsets seconds to add to a file's times, where given by a person
 * @param room which ambient the study uses
 * @throws LogError where a clock cannot be matched or the first file spans over 1,000 h
 */
export function buildTrace(logs: Log[], offsets: Record<string, number> = {}, room: AmbientChoice = ANY_AMBIENT): Trace {
  const [first, ...others] = logs;
  refuseLong(first);
  const clockOffset: Record<string, number> = {};
  const correlated: Record<string, number> = {};
  for (const log of others) {
    const { offset_s, correlation } = alignLog(first, log, offsets[log.file]);
    clockOffset[log.file] = offset_s;
    if (correlation !== null) correlated[log.file] = correlation;
  }
  const lasts = first.t[first.t.length - 1];
  const channels = logs.flatMap((log) => channelsOf(log, clockOffset[log.file] ?? 0, log === first ? null : lasts));
  const asWritten = driveOf(channels);
  const guessed = settleUnits(channels, asWritten, room.band_c);
  leaveOutImpossible(channels, room);
  const drive = markBadSensors(channels, guessed || asWritten?.kind === 'temperature' ? driveOf(channels) : asWritten);
  markConstant(channels, room);
  addAmbient(channels, room);
  return {
    files: logs.map(({ file, time, rows, t, clock, columns }) => ({
      name: file,
      ...{ time, rows, kept: t.length, clock },
      unused: unusedOf(columns),
    })),
    channels,
    room,
    drive,
    clock_offset_s: clockOffset,
    correlated,
    samples: first.t.length,
    period_s: periodOf(first.t),
    duration_s: lasts,
  };
}

/** @throws LogError for a first file that spans more than any run */
function refuseLong({ file, t, time }: Log): void {
  const hours = t[t.length - 1] / 3600;
  if (hours <= LONGEST_H) return;
  throw new LogError(
    file,
    `its times span ${hours > 1e6 ? hours.toPrecision(2) : Math.round(hours)} h; a run of up to ${LONGEST_H} h is read. Cut the log to the run, or check its times.`,
    { column: time.columns[0] },
  );
}

/** Temperatures that serve nothing, with the reason. */
const unusedOf = (columns: LogColumn[]): { name: string; reason: string }[] =>
  columns.filter((c) => c.role === 'ignore' && isTemperature(c.unit)).map(({ name, reason }) => ({ name, reason }));

/** @param lasts end of the run, beyond which a further file is cut; null for the first */
function channelsOf(log: Log, offset: number, lasts: number | null): Channel[] {
  const shifted = offset === 0 ? log.t : log.t.map((s) => s + offset);
  const [from, to] = lasts === null ? [0, shifted.length] : [lowerBound(shifted, -BEYOND_S), lowerBound(shifted, lasts + BEYOND_S)];
  const t = shifted.subarray(from, to);
  const period = periodOf(log.t);
  const whole = from === 0 && to === shifted.length;
  return log.columns
    .filter((c) => c.role !== 'ignore')
    .map((c) => channelOf(log.file, whole ? c : { ...c, values: c.values.subarray(from, to) }, t, period));
}

/** A channel is sparse where readings come at this many rows or more. */
const SPARSE_ROWS = 1.5;

function channelOf(file: string, column: LogColumn, axis: Float64Array, axisPeriod: number): Channel {
  let { values } = column;
  let t = axis;
  let period = axisPeriod;
  let missing = countMissing(values);
  if (missing > 0.3 * values.length && missing < values.length) {
    const own = knownTimes(t, values, values.length - missing);
    const ownPeriod = periodOf(own);
    if (own.length > 2 && ownPeriod > SPARSE_ROWS * period) {
      // readings between blank cells have a rhythm of their own
      values = values.filter((v) => !Number.isNaN(v));
      t = own;
      period = ownPeriod;
      missing = 0;
    }
  }
  const flags = isTemperature(column.unit) ? flagSpikes(values, column.resolution) : new Uint8Array(0);
  let spikes = 0;
  for (let i = 0; i < flags.length; i++) spikes += flags[i];
  return {
    ...{ name: column.name, file, role: column.role, unit: column.unit, t, values },
    clean: spikes === 0 ? values : values.map((v, i) => (flags[i] ? Number.NaN : v)),
    resolution: column.resolution,
    rise: column.rise,
    period_s: period,
    missing,
    spikes,
    stuck: false,
    dead: false,
    died_s: null,
    labelled: column.labelled,
    guessed_f: false,
    doubtful_f: false,
    place: column.role === 'ambient' ? placeOf(column.name) : null,
    constant: false,
  };
}

function countMissing(values: Float64Array): number {
  let missing = 0;
  for (let i = 0; i < values.length; i++) if (Number.isNaN(values[i])) missing++;
  return missing;
}

function knownTimes(t: Float64Array, values: Float64Array, count: number): Float64Array {
  const out = new Float64Array(count);
  let n = 0;
  for (let i = 0; i < t.length; i++) if (!Number.isNaN(values[i])) out[n++] = t[i];
  return out;
}

/** Where a probe stands, by its name. */
function placeOf(name: string): AmbientPlace {
  const said = english(wordsOf(name));
  if (/\b(inlet|intake|air in)\b/i.test(said)) return 'inlet';
  return /\b(case|chassis|enclosure|cabinet|housing)\b/i.test(said) ? 'case' : 'room';
}

/** Air that is measured at all lies in here, °C; with a study's band, so far beside it, K. */
const AIR_C: [number, number] = [-40, 85];
const BESIDE_BAND_K = 10;
/** Levels under an ambient's role that are most likely °F. */
const LIKELY_F: [number, number] = [55, 115];

/** True where a room at such a level is more likely in °F, as no study allows it in °C. */
export const likelyF = (level: number, band: [number, number] | null): boolean =>
  level >= LIKELY_F[0] && level <= LIKELY_F[1] && !(band && level >= band[0] && level <= band[1]);

/** Takes impossible readings out of the temperatures, and says which probes have nothing left. */
function leaveOutImpossible(channels: Channel[], { band_c }: AmbientChoice): void {
  for (const c of channels) {
    if (!isTemperature(c.unit) || c.rise) continue;
    const isRoom = c.role === 'ambient';
    const near: [number, number] = band_c ? [band_c[0] - BESIDE_BAND_K, band_c[1] + BESIDE_BAND_K] : AIR_C;
    const flags = impossibleReadings(c.t, c.values, isRoom && !likelyF(median(c.clean), band_c) ? near : null);
    if (!flags) continue;
    c.clean = c.clean.map((v, i) => (flags[i] ? Number.NaN : v));
    if (isRoom) c.missing = countMissing(c.clean) - c.spikes;
    else if (c.role === 'sensor' || c.role === 'coolant') c.died_s = diedAt(c.t, flags);
  }
}

/** Share of the readings at the end that must all be impossible for a probe to have died. */
const DEAD_END = 0.05;

function diedAt(t: Float64Array, flags: Uint8Array): number | null {
  let from = flags.length;
  while (from > 0 && flags[from - 1] === 1) from--;
  return from > 0 && flags.length - from > DEAD_END * flags.length ? t[from] : null;
}

/** Marks dead and stuck probes, and says what drives the run. */
function markBadSensors(channels: Channel[], drive: Drive | null): Drive | null {
  for (const c of channels) c.dead = c.missing === c.values.length || (c.role === 'ambient' && countMissing(c.clean) === c.clean.length);
  const watched = channels.filter((c) => c.role === 'sensor' || c.role === 'coolant');
  for (const c of watched) {
    const others = watched.filter((o) => o !== c);
    c.dead ||= c.died_s !== null || isDead(c.values, () => (others.length > 0 ? median(others.map((o) => median(o.values))) : 0));
  }
  const sensors = watched.filter((c) => c.role === 'sensor' && !c.dead);
  for (const c of sensors) c.stuck = sensors.length > 1 && standsStill(c, sensors);
  if (!drive || drive.kind === 'temperature') return watched.some((c) => c.dead || c.stuck) ? driveOf(channels) : drive;
  const range = driveRange(drive);
  for (const c of watched) if (!c.dead) c.stuck ||= isStuck(c, drive, range);
  return drive;
}

/** Ambient probes that show one value all through, unless the study knows them as probes. */
function markConstant(channels: Channel[], { known_probes }: AmbientChoice): void {
  for (const c of channels) {
    if (c.role !== 'ambient' || c.dead || known_probes.includes(c.name)) continue;
    const first = c.clean.find((v) => !Number.isNaN(v));
    // a probe at nought all through is judged as a frozen one
    c.constant = c.values.length > 2 && first !== 0 && c.clean.every((v) => Number.isNaN(v) || v === first);
  }
}

/** Columns that hold a rise become temperatures where the room was logged, so that limits and spreads are judged as everywhere. */
function addAmbient(channels: Channel[], choice: AmbientChoice): void {
  if (!channels.some((c) => c.rise)) return;
  const room = ambientSeries({ channels, room: choice });
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
