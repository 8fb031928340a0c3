import { LogReader } from '#core/signal/logs/logReader';
import { LogError, type LogOptions } from '#core/signal/logs/types';
import { traceOf } from '#core/signal/reduce/reduceLogs';
import { partingOf } from '#core/thermal/transient/parting';
import { readTransient, type TransientReading } from '#core/thermal/transient/structure';
import type { Parting, TransientOptions } from '#core/thermal/transient/types';

/** Where the files of a mount come from: chosen from the disk, or stored with a run. */
export interface TransientSource {
  name: string;
  files: { name: string; from: File | string }[];
  reading: LogOptions;
}

export interface TransientAnswer {
  readings: TransientReading[];
  parting: Parting | null;
  /** sensors of the first log */
  sensors: string[];
  problem: string | null;
}

type Told = (share: number, words: string) => void;

/** Reads one or two logs into layers, and lays the second over the first. */
async function answer(sources: TransientSource[], options: TransientOptions, told: Told): Promise<TransientAnswer> {
  const result: TransientAnswer = { readings: [], parting: null, sensors: [], problem: null };
  const part = 1 / (2 * sources.length + 1);
  try {
    for (const [i, source] of sources.entries()) {
      told(2 * i * part, `Reading ${source.name}`);
      const logs = [];
      for (const file of source.files) logs.push(await readFile(file, source.reading));
      const trace = traceOf(logs, source.reading, {}, {});
      if (i === 0) result.sensors = trace.channels.filter((c) => c.role === 'sensor').map((c) => c.name);
      told((2 * i + 1) * part, `Sorting ${source.name} into layers`);
      // both are read by one sensor, where the second has it
      const first = result.readings[0]?.step?.sensor;
      const same = first && trace.channels.some((c) => c.role === 'sensor' && c.name === first) ? first : options.sensor;
      result.readings.push(readTransient(trace, { ...options, sensor: same }));
    }
    const [a, b] = result.readings;
    if (a?.mount && b?.mount)
      result.parting = partingOf(a.mount, b.mount, (share) => told(1 - part + share * part, 'Laying one over the other'));
  } catch (error) {
    if (!(error instanceof LogError)) throw error;
    result.problem = error.message;
  }
  told(1, 'Done');
  return result;
}

async function readFile({ name, from }: TransientSource['files'][number], reading: LogOptions) {
  const blob = typeof from === 'string' ? await fetched(from, name) : from;
  const reader = new LogReader(name, reading, blob.size);
  const stream = blob.stream().getReader();
  for (;;) {
    const { done, value } = await stream.read();
    if (done) return reader.end();
    reader.feed(value);
  }
}

async function fetched(address: string, name: string): Promise<Blob> {
  const response = await fetch(address);
  if (!response.ok) throw new LogError(name, 'the server does not give the stored file.');
  return response.blob();
}

export const api = { answer };
export type TransientApi = typeof api;
