import { LogReader } from '#core/signal/logs/logReader';
import { LogError } from '#core/signal/logs/types';
import { compareProbes, type ProbeComparison, type ProbeStretch } from '#core/signal/probes/compareProbes';
import { UNITS } from '#core/units/units';

/** What was read last; it stays here, where it is compared. */
let stretches: ProbeStretch[] = [];

/** Reads each file as one stretch in which all its probes lay in one place: its columns of temperatures. */
async function read(files: File[]): Promise<{ names: string[]; problems: string[] }> {
  stretches = [];
  const problems: string[] = [];
  for (const file of files) {
    try {
      const reader = new LogReader(file.name, {}, file.size);
      reader.feed(new Uint8Array(await file.arrayBuffer()));
      const log = reader.end();
      const probes = log.columns.filter((c) => c.unit !== null && UNITS[c.unit].base === 'degC' && !c.rise);
      if (probes.length < 2)
        problems.push(`${file.name} has ${probes.length === 0 ? 'no column' : 'one column'} of temperatures; two or more are compared.`);
      else stretches.push({ t: log.t, values: Object.fromEntries(probes.map((c) => [c.name, c.values])) });
    } catch (error) {
      if (!(error instanceof LogError)) throw error;
      problems.push(error.message);
    }
  }
  return { names: [...new Set(stretches.flatMap((s) => Object.keys(s.values)))], problems };
}

/** Compares what was read last with one of its probes. */
const compare = (reference: string): ProbeComparison | null => compareProbes(stretches, reference);

export const api = { read, compare };
export type ProbesApi = typeof api;
