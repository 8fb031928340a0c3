import { LogReader } from './logReader';
import type { Log, LogOptions } from './types';

/**
 * Reads one log file. Every guess (encoding, layout, times, units, roles) is part of the result and can be overruled.
 * @param file name for messages
 * @throws LogError with file, row and column where the file cannot be read
 * @example readLog('run.csv', bytes, { day_first: true }).columns.map((c) => [c.name, c.role, c.unit])
 */
export function readLog(file: string, bytes: Uint8Array, options: LogOptions = {}): Log {
  const reader = new LogReader(file, options, bytes.length);
  reader.feed(bytes);
  return reader.end();
}
