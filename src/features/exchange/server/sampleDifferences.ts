import { createHash } from 'node:crypto';
import { pipeline } from 'node:stream/promises';
import { createGunzip } from 'node:zlib';
import type { Trace } from '#core/signal/trace/types';
import type { PackageRow } from '#features/exchange/model/packageTable';
import { samplesHead, samplesPath, samplesText } from '#features/exchange/model/samples';
import type { OpenedPackage } from './openPackage';

/** Lines that are compared at a time. */
const LINES = 100_000;

/** The samples of a run against the readings of its logs; a package may be without them. */
export async function sampleDifferences(opened: OpenedPackage, name: string, row: PackageRow, trace: Trace | null): Promise<string[]> {
  const path = samplesPath(row.id as number);
  if (!opened.has(path)) return [];
  if (!trace) return [`${path}: ${name} was read from a display and has no samples.`];
  const start = row.started_at === null ? null : Date.parse(row.started_at as string);
  const told = createHash('sha256');
  const is = await pipeline(await opened.stream(path), createGunzip(), async (pieces) => {
    for await (const piece of pieces) told.update(piece as Buffer);
  }).then(
    () => true,
    () => false,
  );
  if (!is) return [`${path}: it cannot be unpacked.`];
  const own = createHash('sha256').update(samplesHead(trace.channels));
  const length = LINES * trace.channels[0].period_s;
  const last = trace.channels.reduce((end, c) => Math.max(end, c.t.at(-1) ?? end), 0);
  for (let from = -1e9, to = length; from <= last; from = to, to += length) own.update(samplesText(trace.channels, from, to, start));
  return told.digest('hex') === own.digest('hex') ? [] : [`${path}: its readings are not those of the logs of ${name}.`];
}
