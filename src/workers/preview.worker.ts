import { expose } from 'comlink';
import { readLog } from '#core/logs/readLog';
import { type Log, LogError, type LogOptions, type Role } from '#core/logs/types';
import { type LogFile, reduceLogs } from '#core/reduce/reduceLogs';
import type { ReduceOptions, Reduction } from '#core/reduce/types';
import { type ChannelLine, downsample } from '#core/trace/downsample';
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

export interface PreviewLog {
  file: string;
  encoding: string;
  delimiter: string;
  decimal: string;
  header_line: number | null;
  unit_line: number | null;
  first_data_line: number;
  rows_kept: number;
  rows_left_out: number;
  duration_s: number;
  time: Log['time'];
  columns: PreviewColumn[];
  headers: string[];
  preview: string[][];
}

export interface Preview {
  logs: PreviewLog[];
  reduction: Reduction | null;
  lines: ChannelLine[];
  problem: string | null;
  asks: LogError['asks'];
}

export interface PreviewRequest {
  files: LogFile[];
  reading: LogOptions;
  options: Partial<ReduceOptions>;
  offsets: Record<string, number>;
}

const COLUMNS = 320;

/** Reads and reduces dropped files as the import will, and says how far it got where that fails. */
function preview({ files, reading, options, offsets }: PreviewRequest): Preview {
  const result: Preview = { logs: [], reduction: null, lines: [], problem: null, asks: null };
  try {
    result.logs = files.map((f) => describe(readLog(f.name, f.bytes, reading)));
    const run = reduceLogs(files, reading, options, offsets);
    result.reduction = run.reduction;
    const end = run.trace.duration_s;
    const line = (t: Float64Array, values: Float64Array) => downsample(t, values, 0, end, COLUMNS, 4.2 * run.trace.period_s);
    const { rise } = run;
    if (rise) result.lines.push({ name: 'Rise', role: 'rise', unit: 'K', ...line(rise.t, rise.values) });
    for (const c of run.trace.channels) {
      if (c.role === 'ambient' || c.role === 'power' || (!rise && c.role === 'sensor'))
        result.lines.push({ name: c.name, role: c.role, unit: c.unit, ...line(c.t, c.values) });
    }
  } catch (error) {
    if (!(error instanceof LogError)) throw error;
    result.problem = error.message;
    result.asks = error.asks;
  }
  return result;
}

function describe(log: Log): PreviewLog {
  const { file, encoding, delimiter, decimal, header_line, unit_line, first_data_line, time, headers, preview: rows } = log;
  const left = Object.values(log.rows).reduce((a, b) => a + b, 0);
  return {
    ...{ file, encoding, delimiter, decimal, header_line, unit_line, first_data_line, time, headers, preview: rows },
    rows_kept: log.t.length,
    rows_left_out: left,
    duration_s: log.t[log.t.length - 1],
    columns: log.columns.map(({ name, unit, role, reason, values }) => {
      const known = values.filter((v) => !Number.isNaN(v));
      return {
        ...{ name, unit, role, reason },
        least: known.length > 0 ? known.reduce((a, b) => Math.min(a, b)) : null,
        most: known.length > 0 ? known.reduce((a, b) => Math.max(a, b)) : null,
        missing: values.length - known.length,
      };
    }),
  };
}

const api = { preview };
export type PreviewApi = typeof api;
expose(api);
