import { promisify } from 'node:util';
import { inflateRaw } from 'node:zlib';
import type { Client } from '#app/database/pool';
import { many, sql } from '#app/database/query';
import { BLOCK, CHUNK, type PackedAxis, type PackedChannel, unpackDoubles, unpackFloats } from './packTrace';

/** Chunks sent in one statement. */
const BATCH = 64;

/** Stores time axes of a run, one per file. */
export async function insertAxes(db: Client, runId: number, axes: PackedAxis[]): Promise<void> {
  const rows = axes.flatMap((axis, position) => {
    const blocks = pieces(axis.blocks, (8 * CHUNK) / BLOCK).map(asBuffer);
    return pieces(axis.t, 8 * CHUNK).map((part, chunk) => {
      const bytes = asBuffer(part);
      return [runId, position, chunk, bytes.readDoubleBE(0), bytes.readDoubleBE(bytes.length - 8), bytes, blocks[chunk]];
    });
  });
  await insertRows(db, 'insert into time_chunks (run_id, axis, chunk, t_from, t_to, t, blocks)', rows);
}

/**
 * Stores channels of a run as chunks of readings with their range.
 * @param first position of the first of them among the run's channels
 */
export async function insertChannels(db: Client, runId: number, first: number, channels: PackedChannel[]): Promise<void> {
  const rows = await many<{ id: number }>(db)`insert into channels (run_id, position, axis, name, file, role, unit)
    select ${runId}, c.position, c.axis, c.name, c.file, c.role, c.unit
    from
      jsonb_to_recordset(${JSON.stringify(channels.map(({ name, file, role, unit, axis }, i) => ({ position: first + i, axis, name, file, role, unit })))}::jsonb)
      as c(position int, axis int, name text, file text, role text, unit text)
    order by c.position returning id`;
  const chunks = channels.flatMap((channel, i) => {
    const blocks = pieces(channel.blocks, (8 * CHUNK) / BLOCK).map(asBuffer);
    return pieces(channel.readings, 4 * CHUNK).map((part, chunk) => [
      rows[i].id,
      chunk,
      ...rangeOf(blocks[chunk]),
      asBuffer(part),
      blocks[chunk],
    ]);
  });
  await insertRows(db, 'insert into trace_chunks (channel_id, chunk, low, high, readings, blocks)', chunks);
}

async function insertRows(db: Client, into: string, rows: unknown[][]): Promise<void> {
  for (let next = 0; next < rows.length; next += BATCH) {
    const batch = rows.slice(next, next + BATCH);
    const width = batch[0].length;
    const places = batch.map((row, r) => `(${row.map((_, i) => `$${r * width + i + 1}`).join(',')})`);
    await db.query(`${into} values ${places.join(',')}`, batch.flat());
  }
}

const pieces = (bytes: Uint8Array, size: number): Uint8Array[] =>
  Array.from({ length: Math.ceil(bytes.length / size) }, (_, i) => bytes.subarray(i * size, (i + 1) * size));

const asBuffer = (bytes: Uint8Array): Buffer => Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength);

/** Lowest and highest reading of a chunk, from its blocks; null where all are missing. */
function rangeOf(blocks: Buffer): [number | null, number | null] {
  let low = Number.POSITIVE_INFINITY;
  let high = Number.NEGATIVE_INFINITY;
  for (let at = 0; at < blocks.length; at += 8) {
    const a = blocks.readFloatBE(at);
    if (a < low) low = a;
    const b = blocks.readFloatBE(at + 4);
    if (b > high) high = b;
  }
  return low <= high ? [low, high] : [null, null];
}

export interface LoadedChannel {
  name: string;
  role: string;
  unit: string | null;
  t: Float64Array;
  values: Float64Array;
}

/** How finely a trace is loaded: every reading, or the lowest and highest of every block of 64 or of every chunk of 4096. */
export type TraceLevel = 'readings' | 'blocks' | 'chunks';

interface ChunkRow {
  position: number;
  name: string;
  role: string;
  unit: string | null;
  axis: number;
  chunk: number;
  low: number | null;
  high: number | null;
  values: Buffer | null;
  packed: boolean;
}

/** Samples of old runs may be packed; see `samples.ts`. */
const unpack = promisify(inflateRaw);

/**
 * Readings of a run's channels between two times, whole chunks at a time.
 * At the levels of blocks and chunks each stands as two readings, its lowest and its highest. Readings that were dropped are left out: whoever
 * wants them reads the log (`run/server/oldSamples`).
 */
export const loadTrace = (db: Client, runId: number, from: number, to: number, level: TraceLevel = 'readings'): Promise<LoadedChannel[]> =>
  loadChannels(db, runId, null, from, to, level);

/** Readings of the first channel of a role between two times; null where the run has none. */
export const loadChannel = async (
  db: Client,
  runId: number,
  role: string,
  from: number,
  to: number,
  level: TraceLevel = 'readings',
): Promise<LoadedChannel | null> => (await loadChannels(db, runId, role, from, to, level))[0] ?? null;

/** @param role the first channel of this role alone; null for all channels */
async function loadChannels(
  db: Client,
  runId: number,
  role: string | null,
  from: number,
  to: number,
  level: TraceLevel,
): Promise<LoadedChannel[]> {
  const { axes, spans } = await loadAxes(db, runId, from, to, level);
  const values = { readings: sql`v.readings`, blocks: sql`v.blocks`, chunks: sql`null::bytea` }[level];
  // each channel's chunks are one range of its index, whatever the planner knows of how many there are
  const rows = await many<ChunkRow>(db)`
    select c.position, c.name, c.role, c.unit, c.axis, v.chunk, v.low, v.high, ${values} as values, v.packed
    from (select * from channels where run_id = ${runId} and (${role}::text is null or role = ${role})
          order by position limit case when ${role}::text is null then null else 1 end) c
    join unnest(${spans.map((s) => s.axis)}::int[], ${spans.map((s) => s.first)}::int[], ${spans.map((s) => s.last)}::int[])
      as s (axis, first, last) on s.axis = c.axis
    join trace_chunks v on v.channel_id = c.id and v.chunk between s.first and s.last
    order by c.position, v.chunk`;
  if (level === 'readings') for (const r of rows) if (r.packed) r.values = await unpack(r.values as Buffer);
  return joinChannels(rows, axes, level);
}

/**
 * Times of the chunks between two times, by axis and chunk: of every reading, or of where every block or chunk begins and has its middle.
 */
async function loadAxes(
  db: Client,
  runId: number,
  from: number,
  to: number,
  level: TraceLevel,
): Promise<{ axes: Map<string, Float64Array>; spans: AxisSpan[] }> {
  const times = { readings: sql`t`, blocks: sql`blocks`, chunks: sql`null::bytea` }[level];
  const rows = await many<TimeRow>(db)`
    select axis, chunk, t_from, t_to, ${times} as t, packed
    from time_chunks where run_id = ${runId} and t_to >= ${from} and t_from <= ${to} and (t is not null or ${level} <> 'readings')`;
  if (level === 'readings') for (const r of rows) if (r.packed) r.t = await unpack(r.t as Buffer);
  const timesOf = (r: TimeRow) => {
    if (level === 'readings') return unpackDoubles(r.t as Buffer);
    return withMiddles(level === 'chunks' ? Float64Array.of(r.t_from) : unpackDoubles(r.t as Buffer), r.t_to);
  };
  const spans = new Map<number, AxisSpan>();
  for (const { axis, chunk } of rows) {
    const known = spans.get(axis);
    spans.set(axis, { axis, first: Math.min(known?.first ?? chunk, chunk), last: Math.max(known?.last ?? chunk, chunk) });
  }
  return { axes: new Map(rows.map((r) => [`${r.axis}/${r.chunk}`, timesOf(r)])), spans: [...spans.values()] };
}

interface TimeRow {
  axis: number;
  chunk: number;
  t_from: number;
  t_to: number;
  t: Buffer | null;
  packed: boolean;
}

/** Chunks of an axis that are wanted. */
interface AxisSpan {
  axis: number;
  first: number;
  last: number;
}

function withMiddles(starts: Float64Array, end: number): Float64Array {
  const times = new Float64Array(2 * starts.length);
  for (const [i, start] of starts.entries()) {
    times[2 * i] = start;
    times[2 * i + 1] = (start + (starts[i + 1] ?? end)) / 2;
  }
  return times;
}

function joinChannels(rows: ChunkRow[], axes: Map<string, Float64Array>, level: TraceLevel): LoadedChannel[] {
  const byPosition = new Map<number, ChunkRow[]>();
  for (const row of rows) {
    const parts = byPosition.get(row.position);
    if (parts) parts.push(row);
    else byPosition.set(row.position, [row]);
  }
  return Array.from(byPosition.values(), (parts) => {
    const loaded = parts.map((p) => loadChunk(p, axes.get(`${p.axis}/${p.chunk}`) as Float64Array, level));
    const { name, role, unit } = parts[0];
    return { ...{ name, role, unit }, t: concat(loaded.map((l) => l.t)), values: concat(loaded.map((l) => l.values)) };
  });
}

function loadChunk(row: ChunkRow, t: Float64Array, level: TraceLevel): { t: Float64Array; values: Float32Array } {
  const values = level === 'chunks' ? Float32Array.of(row.low ?? Number.NaN, row.high ?? Number.NaN) : unpackFloats(row.values as Buffer);
  return { t, values };
}

function concat(parts: (Float32Array | Float64Array)[]): Float64Array {
  const all = new Float64Array(parts.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const part of parts) {
    all.set(part, at);
    at += part.length;
  }
  return all;
}
