import { LogReader } from '#core/signal/logs/logReader';
import { type Log, LogError, type LogOptions, type Role } from '#core/signal/logs/types';
import { type ProgramResults, readResults } from '#core/signal/performance/readResults';
import { reduceTrace } from '#core/signal/reduce/reduce';
import { traceOf } from '#core/signal/reduce/reduceLogs';
import type { ReduceOptions, Reduction } from '#core/signal/reduce/types';
import { followsLoad } from '#core/signal/trace/align';
import { type ChannelLine, downsample } from '#core/signal/trace/downsample';
import type { Unit } from '#core/units/units';

export interface PreviewColumn {
  name: string;
  unit: Unit | null;
  role: Role;
  reason: string;
  least: number | null;
  most: number | null;
  missing: number;
}

export interface PreviewLog
  extends Pick<Log, 'file' | 'encoding' | 'header_line' | 'unit_line' | 'first_data_line' | 'headers' | 'preview'> {
  delimiter: string;
  decimal: string;
  rows_kept: number;
  rows_left_out: number;
  duration_s: number;
  time: Log['time'];
  columns: PreviewColumn[];
}

/** How a further file was put on the first file's clock, with what follows the load in both. */
export interface PreviewClock {
  file: string;
  offset_s: number;
  how: 'times' | 'load' | 'hand';
  correlation: number | null;
  /** the first file's and its own, each from 0 to 1 */
  lines: { own: ChannelLine | null; first: ChannelLine | null };
}

export interface Preview {
  logs: PreviewLog[];
  clocks: PreviewClock[];
  reduction: Reduction | null;
  lines: ChannelLine[];
  problem: string | null;
  asks: LogError['asks'];
  /** file that a decision is asked for */
  asked_of: string | null;
}

export interface PreviewRequest {
  files: File[];
  reading: LogOptions;
  options: Partial<ReduceOptions>;
  offsets: Record<string, number>;
}

const COLUMNS = 320;

/** Logs as they were read last, so that a change of what is not about reading answers at once. */
let known: { key: string; logs: Log[] } = { key: '', logs: [] };

async function readAll(files: File[], reading: LogOptions): Promise<Log[]> {
  const key = JSON.stringify([files.map((f) => [f.name, f.size, f.lastModified]), reading]);
  if (known.key === key) return known.logs;
  known = { key: '', logs: [] };
  const logs: Log[] = [];
  for (const file of files) logs.push(await readFile(file, reading));
  known = { key, logs };
  return logs;
}

async function readFile(file: File, reading: LogOptions): Promise<Log> {
  const reader = new LogReader(file.name, reading, file.size);
  const stream = file.stream().getReader();
  for (;;) {
    const { done, value } = await stream.read();
    if (done) return reader.end();
    reader.feed(value);
  }
}

/** Reads and reduces dropped files as the import will, and says how far it got where that fails. */
async function preview({ files, reading, options, offsets }: PreviewRequest): Promise<Preview> {
  const result: Preview = { logs: [], clocks: [], reduction: null, lines: [], problem: null, asks: null, asked_of: null };
  try {
    const logs = await readAll(files, { ...reading, sensor: options.sensor ?? undefined, parts: options.part_sensors });
    result.logs = logs.map(describe);
    const trace = traceOf(logs, reading, options, offsets);
    const { reduction, rise } = reduceTrace(trace, options);
    result.reduction = reduction;
    result.clocks = logs.slice(1).map((log) => {
      const offset_s = trace.clock_offset_s[log.file];
      const correlation = trace.correlated[log.file] ?? null;
      const how = offsets[log.file] !== undefined ? 'hand' : correlation !== null ? 'load' : 'times';
      return { file: log.file, offset_s, how, correlation, lines: clockLines(logs[0], log, offset_s) };
    });
    const end = trace.duration_s;
    const line = (t: Float64Array, values: Float64Array) => downsample(t, values, 0, end, COLUMNS, 4.2 * trace.period_s);
    if (rise) result.lines.push({ name: 'Rise', role: 'rise', unit: 'K', ...line(rise.t, rise.values) });
    for (const c of trace.channels) {
      if (c.role === 'ambient' || c.role === 'power' || (!rise && c.role === 'sensor'))
        result.lines.push({ name: c.name, role: c.role, unit: c.unit, ...line(c.t, c.values) });
    }
  } catch (error) {
    if (!(error instanceof LogError)) throw error;
    result.problem = error.message;
    result.asks = error.asks;
    result.asked_of = error.file;
  }
  return result;
}

/** What follows the load in two files, on the first file's clock, each scaled to its own range. */
function clockLines(first: Log, other: Log, offset: number): PreviewClock['lines'] {
  const end = Math.max(first.t[first.t.length - 1], other.t[other.t.length - 1] + offset);
  const start = Math.min(0, offset);
  const lineOf = (log: Log, by: number): ChannelLine | null => {
    const follows = followsLoad(log);
    if (!follows) return null;
    let low = Number.POSITIVE_INFINITY;
    let high = Number.NEGATIVE_INFINITY;
    for (const v of follows.values) {
      if (v < low) low = v;
      if (v > high) high = v;
    }
    const scaled = follows.values.map((v) => (v - low) / (high - low || 1));
    const t = log.t.map((s) => s + by);
    return { name: follows.name, role: follows.role, unit: null, ...downsample(t, scaled, start, end, COLUMNS, Number.POSITIVE_INFINITY) };
  };
  return { first: lineOf(first, 0), own: lineOf(other, offset) };
}

function describe(log: Log): PreviewLog {
  const { file, encoding, delimiter, decimal, header_line, unit_line, first_data_line, time, headers, preview: rows } = log;
  const left = Object.values(log.rows).reduce((a, b) => a + b, 0);
  return {
    ...{ file, encoding, delimiter, decimal, header_line, unit_line, first_data_line, time, headers, preview: rows },
    rows_kept: log.t.length,
    rows_left_out: left,
    duration_s: log.t[log.t.length - 1],
    columns: log.columns.map(({ name, unit, role, reason, values }) => ({ name, unit, role, reason, ...rangeOf(values) })),
  };
}

function rangeOf(values: Float64Array): Pick<PreviewColumn, 'least' | 'most' | 'missing'> {
  let least: number | null = null;
  let most: number | null = null;
  let missing = 0;
  for (const v of values) {
    if (Number.isNaN(v)) missing++;
    else {
      if (least === null || v < least) least = v;
      if (most === null || v > most) most = v;
    }
  }
  return { least, most, missing };
}

export type PreviewResults = { name: string; figures: ProgramResults | null; problem: string | null };

/** What a results file says, or what is wrong with it. */
async function results(file: File): Promise<PreviewResults> {
  try {
    return { name: file.name, figures: readResults(file.name, new Uint8Array(await file.arrayBuffer())), problem: null };
  } catch (error) {
    if (!(error instanceof LogError)) throw error;
    return { name: file.name, figures: null, problem: error.message };
  }
}

/** Bytes of a file's beginning by which it is told whether it could be a run alone. */
const HEAD_BYTES = 512 * 1024;

/** True where a file alone could be a run: its beginning holds the temperature of a part. */
async function holdsPart(file: File): Promise<boolean> {
  try {
    const log = await readFile(new File([file.slice(0, HEAD_BYTES)], file.name), { day_first: true });
    return log.columns.some((c) => c.role === 'sensor');
  } catch (error) {
    if (!(error instanceof LogError)) throw error;
    return false;
  }
}

export const api = { preview, results, holdsPart };
export type PreviewApi = typeof api;
