import { LogReader } from '#core/signal/logs/logReader';
import type { Log } from '#core/signal/logs/types';
import { reduceTrace } from '#core/signal/reduce/reduce';
import { traceOf } from '#core/signal/reduce/reduceLogs';
import type { Reduction } from '#core/signal/reduce/types';
import type { Trace } from '#core/signal/trace/types';
import type { PackageRow } from '#features/exchange/model/packageTable';
import { computedRows } from '#features/exchange/model/runRows';
import type { PackagedRun } from '#features/exchange/model/studyDocument';
import { reduceValues, type TypedValues } from '#features/run/model/typedRun';
import type { OpenedPackage } from './openPackage';
import { readPackage } from './readPackage';
import { sampleDifferences } from './sampleDifferences';
import {
  comparisonDifferences,
  photographDifferences,
  type RecomputedRun,
  runDifferences,
  runName,
  startDifferences,
  typedWords,
} from './valueDifferences';

/** What was found in a package. */
export interface Verification {
  /** one line a difference, with both values */
  differences: string[];
  /** what could not be checked, as it is not in the package */
  unchecked: string[];
  runs: number;
  pairs: number;
}

/**
 * Recomputes every value of a package from its logs and every verdict from the values, compares them with what the package says, and checks
 * every hash. It needs no store.
 * @param say told how many runs were read so far
 * @throws PackageError where it cannot be read
 */
export async function verifyPackage(opened: OpenedPackage, say: (done: number, total: number) => void = () => {}): Promise<Verification> {
  const { document, tables, faults } = await readPackage(opened);
  const found: Verification = { differences: faults, unchecked: [], runs: 0, pairs: 0 };
  const reductions = new Map<number, Omit<Reduction, 'findings'>>();
  for (const [i, run] of document.runs.entries()) {
    say(i, document.runs.length);
    const row = tables.runs.find((r) => r.id === run.id);
    if (!row) continue;
    const own = tables.files.filter((f) => f.run_id === run.id && f.kind === 'log');
    const name = runName(row, tables);
    const read = await recomputed(opened, run, own).catch((error: Error) => {
      found.differences.push(`${name}: its logs cannot be read as the package says (${error.message}).`);
      return null;
    });
    if (!read) continue;
    if (run.typed) found.unchecked.push(typedWords(name));
    reductions.set(run.id, read.reduction);
    found.differences.push(
      ...runDifferences(name, computedRows(run.id, read.reduction), tables),
      ...startDifferences(name, row, read),
      ...(await sampleDifferences(opened, name, row, read.trace)),
    );
    found.runs++;
  }
  const compared = await comparisonDifferences({ document, tables, reductions });
  found.differences.push(...compared.differences);
  found.pairs = compared.pairs;
  const photographs = await photographDifferences(opened, tables.photographs);
  found.differences.push(...photographs.differences);
  found.unchecked.push(...photographs.unchecked);
  return found;
}

/** A run as its files give it, read as the package says. */
async function recomputed(opened: OpenedPackage, run: PackagedRun, files: PackageRow[]): Promise<RecomputedRun & { trace: Trace | null }> {
  if (run.typed) return { reduction: reduceValues(run.typed as TypedValues, run.options), start_epoch_s: null, zoned: false, trace: null };
  if (files.length === 0) throw new Error('it has no log');
  const logs: Log[] = [];
  for (const { name, path } of files) {
    if (!opened.has(path as string)) throw new Error(`${path} is missing`);
    const options = { ...run.reading, sensor: run.options.sensor ?? undefined, parts: run.options.part_sensors };
    const reader = new LogReader(name as string, options, opened.bytesOf(path as string));
    for await (const piece of await opened.stream(path as string)) reader.feed(new Uint8Array(piece));
    logs.push(reader.end());
  }
  const { start_epoch_s, zoned } = logs[0].time;
  const trace = traceOf(logs, run.reading, run.options, run.clock_offset_s);
  return { reduction: reduceTrace(trace, run.options).reduction, start_epoch_s, zoned, trace };
}
