import { readLog } from '#core/signal/logs/readLog';
import { type Log, LogError, type LogOptions } from '#core/signal/logs/types';
import { buildTrace } from '#core/signal/trace/buildTrace';
import type { Trace } from '#core/signal/trace/types';
import { type RiseLine, reduceTrace } from './reduce';
import type { ReduceOptions, Reduction } from './types';

export interface LogFile {
  name: string;
  bytes: Uint8Array;
}

interface ReducedRun {
  logs: Log[];
  trace: Trace;
  reduction: Reduction;
  /** the rise the run is judged by, over the whole run, for drawing; null without ambient */
  rise: RiseLine | null;
}

/**
 * The whole way from files to a run value; the command line and the preview in the browser call this.
 * @param files the first is the reference of the clock
 * @throws LogError in one sentence where a file cannot be read or a decision names a column no file has
 * @example reduceLogs([{ name: 'amber_m1_r1.csv', bytes }], {}, { limit_c: 92 }).reduction.rise_k
 */
export function reduceLogs(
  files: LogFile[],
  reading: LogOptions = {},
  options: Partial<ReduceOptions> = {},
  offsets: Record<string, number> = {},
): ReducedRun {
  if (files.length === 0) throw new LogError('(no file)', 'at least one log file is needed.');
  const logs = files.map((f) => readLog(f.name, f.bytes, { ...reading, sensor: options.sensor ?? undefined, parts: options.part_sensors }));
  const trace = traceOf(logs, reading, options, offsets);
  return { logs, trace, ...reduceTrace(trace, options) };
}

/**
 * Puts logs that were read on one clock.
 * @throws LogError where none holds the part's temperature, a clock cannot be matched, or a decision names a column no file has
 */
export function traceOf(logs: Log[], reading: LogOptions, options: Partial<ReduceOptions>, offsets: Record<string, number>): Trace {
  if (logs.length === 0) throw new LogError('(no file)', 'at least one log file is needed.');
  checkNames(logs, reading, options, offsets);
  // a study that compares by other outcomes needs no temperature of the part
  if (options.rise_wanted !== false && !logs.some((log) => log.columns.some((c) => c.role === 'sensor'))) {
    const columns = logs[0].columns
      .map((c) => c.name)
      .slice(0, 8)
      .join(', ');
    throw new LogError(
      logs[0].file,
      `no column has a temperature of the part (found: ${columns || 'none'}); name one with the role "sensor".`,
      { row: logs[0].header_line ?? 1 },
    );
  }
  const { ambient_place = 'room', ambient_probes = [], ambient_band_c = null, probe_resolution_k = {} } = options;
  const probes = logs.flatMap((log) => log.columns.filter((c) => c.role === 'ambient').map((c) => c.name));
  const unknown = ambient_probes.find((p) => !probes.includes(p));
  if (unknown !== undefined) {
    throw new LogError(
      logs[0].file,
      `there is no ambient probe "${unknown}"; ${probes.length === 0 ? 'the log has none' : `there are ${probes.join(', ')}`}.`,
      { column: unknown },
    );
  }
  return buildTrace(logs, offsets, {
    place: ambient_place,
    probes: ambient_probes,
    band_c: ambient_band_c,
    known_probes: Object.keys(probe_resolution_k),
  });
}

/** A decision about a column or file that is not there is a slip of the pen, not something to pass over. */
function checkNames(logs: Log[], reading: LogOptions, options: Partial<ReduceOptions>, offsets: Record<string, number>): void {
  const names = new Set(logs.flatMap((log) => log.columns.map((c) => c.name)));
  const wanted = [...Object.keys(reading.roles ?? {}), ...Object.keys(reading.units ?? {}), ...(options.sensor ? [options.sensor] : [])];
  for (const name of wanted) {
    if (!names.has(name) && !logs.some((log) => log.time.columns.includes(name)))
      throw new LogError(logs[0].file, `there is no column "${name}"; there are ${[...names].slice(0, 12).join(', ')}.`, { column: name });
  }
  for (const file of Object.keys(offsets)) {
    if (!logs.some((log) => log.file === file))
      throw new LogError(
        file,
        `this file is not among the logs (${logs.map((l) => l.file).join(', ')}), so no offset can be given for it.`,
      );
  }
}
