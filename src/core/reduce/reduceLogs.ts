import { readLog } from '../logs/readLog';
import { type Log, LogError, type LogOptions } from '../logs/types';
import { buildTrace } from '../trace/buildTrace';
import { riseSeries } from '../trace/rise';
import type { Trace } from '../trace/types';
import { aggregateSeries } from './loadFigures';
import { reduce } from './reduce';
import { REDUCE_DEFAULTS, type ReduceOptions, type Reduction } from './types';

export interface LogFile {
  name: string;
  bytes: Uint8Array;
}

export interface ReducedRun {
  logs: Log[];
  trace: Trace;
  reduction: Reduction;
}

/**
 * The whole way from files to a run value; the command line, the preview in the browser and the import all call this.
 * @param files the first is the reference of the clock
 * @throws LogError in one sentence where a file cannot be read or a decision names a column no file has
 */
export function reduceLogs(files: LogFile[], reading: LogOptions = {}, options: Partial<ReduceOptions> = {}, offsets: Record<string, number> = {}): ReducedRun {
  if (files.length === 0) throw new LogError('(no file)', 'at least one log file is needed.');
  const logs = files.map((f) => readLog(f.name, f.bytes, { ...reading, sensor: options.sensor ?? undefined }));
  checkNames(logs, reading, options, offsets);
  if (!logs.some((log) => log.columns.some((c) => c.role === 'sensor'))) {
    const columns = logs[0].columns
      .map((c) => c.name)
      .slice(0, 8)
      .join(', ');
    throw new LogError(logs[0].file, `no column holds a temperature of the part (found: ${columns || 'none'}); name one with the role "sensor".`, {
      row: logs[0].header_line ?? 1,
    });
  }
  const trace = buildTrace(logs, offsets);
  return { logs, trace, reduction: reduce(trace, options) };
}

/** A decision about a column or file that is not there is a slip of the pen, not something to pass over. */
function checkNames(logs: Log[], reading: LogOptions, options: Partial<ReduceOptions>, offsets: Record<string, number>): void {
  const names = new Set(logs.flatMap((log) => log.columns.map((c) => c.name)));
  const wanted = [...Object.keys(reading.roles ?? {}), ...Object.keys(reading.units ?? {}), ...(options.sensor ? [options.sensor] : [])];
  for (const name of wanted) {
    if (!names.has(name) && !logs.some((log) => log.time.columns.includes(name))) {
      throw new LogError(logs[0].file, `there is no column "${name}"; there are ${[...names].slice(0, 12).join(', ')}.`, { column: name });
    }
  }
  for (const file of Object.keys(offsets)) {
    if (!logs.some((log) => log.file === file))
      throw new LogError(file, `this file is not among the logs (${logs.map((l) => l.file).join(', ')}), so no offset can be given for it.`);
  }
}

/** The rise a run is judged by, over the whole run, for drawing; null without ambient. */
export function displayRise(run: ReducedRun, options: Partial<ReduceOptions>): { t: Float64Array; values: Float64Array } | null {
  const rises = riseSeries(run.trace, options.room_c ?? null);
  const sustained = run.reduction.stages.find((s) => s.stage === 'sustained');
  if (!rises?.ambient) return null;
  const span = sustained ?? { start_s: 0, end_s: run.trace.duration_s };
  return {
    t: rises.t,
    values: aggregateSeries(rises, run.reduction.aggregate, options.sensor ?? null, span, options.window_s ?? REDUCE_DEFAULTS.window_s).series,
  };
}
