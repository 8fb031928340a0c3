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
  const own = createHash('sha256').update(samplesHead(trace.channels));
  let length = Buffer.byteLength(samplesHead(trace.channels));
  const stretch = LINES * trace.channels[0].period_s;
  const last = trace.channels.reduce((end, c) => Math.max(end, c.t.at(-1) ?? end), 0);
  for (let from = -1e9, to = stretch; from <= last; from = to, to += stretch) {
    const text = samplesText(trace.channels, from, to, start);
    own.update(text);
    length += text.length;
  }
  const told = createHash('sha256');
  let read = 0;
  const problem = await pipeline(await opened.stream(path), createGunzip(), async (pieces) => {
    for await (const piece of pieces) {
      told.update(piece as Buffer);
      read += (piece as Buffer).length;
      // what is longer is another text; how much longer need not be found out
      if (read > length) return;
    }
  }).then(
    () => null,
    // a reader who stops ends it with an error, too
    () => (read > length ? null : `${path}: it cannot be unpacked.`),
  );
  if (problem) return [problem];
  return read === length && told.digest('hex') === own.digest('hex') ? [] : [`${path}: its readings are not those of the logs of ${name}.`];
}
