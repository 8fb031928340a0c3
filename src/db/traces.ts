import type { Client } from './pool';

/** Readings per stored chunk. */
const CHUNK = 4096;
/** Chunks sent in one statement. */
const BATCH = 64;

export interface StoredChannel {
  name: string;
  file: string;
  role: string;
  unit: string | null;
  axis: number;
  values: Float64Array;
}

/** Stores the traces of a run: one time axis per file, channels as chunks of readings with their range. */
export async function insertTrace(db: Client, runId: number, axes: Float64Array[], channels: StoredChannel[]): Promise<void> {
  for (const [axis, t] of axes.entries()) {
    for (const [chunk, part] of chunksOf(t).entries()) {
      await db.query('insert into time_chunks (run_id, axis, chunk, t_from, t_to, t) values ($1, $2, $3, $4, $5, $6)', [
        runId,
        axis,
        chunk,
        part[0],
        part[part.length - 1],
        Array.from(part),
      ]);
    }
  }
  const { rows } = await db.query<{ id: number }>(
    `insert into channels (run_id, position, axis, name, file, role, unit)
     select $1, c.position, c.axis, c.name, c.file, c.role, c.unit
     from jsonb_to_recordset($2::jsonb) as c(position int, axis int, name text, file text, role text, unit text)
     order by c.position returning id`,
    [runId, JSON.stringify(channels.map(({ name, file, role, unit, axis }, position) => ({ position, axis, name, file, role, unit })))],
  );
  const chunks = channels.flatMap((channel, i) => chunksOf(channel.values).map((part, chunk) => ({ channel: rows[i].id, chunk, part })));
  for (let next = 0; next < chunks.length; next += BATCH) {
    const batch = chunks.slice(next, next + BATCH);
    await db.query(
      `insert into trace_chunks (channel_id, chunk, low, high, readings)
       select c.channel, c.chunk, c.low, c.high, c.readings::real[]
       from unnest($1::bigint[], $2::int[], $3::real[], $4::real[], $5::text[]) as c(channel, chunk, low, high, readings)`,
      [
        batch.map((c) => c.channel),
        batch.map((c) => c.chunk),
        batch.map((c) => extreme(c.part, Math.min)),
        batch.map((c) => extreme(c.part, Math.max)),
        batch.map((c) => arrayText(c.part)),
      ],
    );
  }
}

/** Lowest or highest known reading; null where all are missing. */
function extreme(values: Float64Array, choose: (a: number, b: number) => number): number | null {
  const known = values.filter((v) => !Number.isNaN(v));
  return known.length === 0 ? null : known.reduce((a, b) => choose(a, b));
}

function arrayText(values: Float64Array): string {
  return `{${Array.from(values, (v) => (Number.isNaN(v) ? 'NaN' : v)).join(',')}}`;
}

function chunksOf(values: Float64Array): Float64Array[] {
  return Array.from({ length: Math.ceil(values.length / CHUNK) }, (_, i) => values.subarray(i * CHUNK, (i + 1) * CHUNK));
}

export interface LoadedChannel {
  name: string;
  role: string;
  unit: string | null;
  t: Float64Array;
  values: Float64Array;
}

/** Readings of a run's channels between two times, whole chunks at a time. */
export async function loadTrace(db: Client, runId: number, from: number, to: number): Promise<LoadedChannel[]> {
  const { rows } = await db.query<{ position: number; name: string; role: string; unit: string | null; t: number[]; readings: number[] }>(
    `select c.position, c.name, c.role, c.unit, a.t, v.readings
     from channels c
     join time_chunks a on a.run_id = c.run_id and a.axis = c.axis
     join trace_chunks v on v.channel_id = c.id and v.chunk = a.chunk
     where c.run_id = $1 and a.t_to >= $2 and a.t_from <= $3
     order by c.position, a.chunk`,
    [runId, from, to],
  );
  const byPosition = new Map<number, typeof rows>();
  for (const row of rows) byPosition.set(row.position, [...(byPosition.get(row.position) ?? []), row]);
  return Array.from(byPosition.values(), (parts) => ({
    name: parts[0].name,
    role: parts[0].role,
    unit: parts[0].unit,
    t: Float64Array.from(parts.flatMap((p) => p.t)),
    values: Float64Array.from(parts.flatMap((p) => p.readings)),
  }));
}

/** Readings of the first channel of a role between two times; null where the run has none. */
export async function loadChannel(db: Client, runId: number, role: string, from: number, to: number): Promise<LoadedChannel | null> {
  const { rows } = await db.query<{ name: string; role: string; unit: string | null; t: number[]; readings: number[] }>(
    `select c.name, c.role, c.unit, a.t, v.readings
     from (select * from channels where run_id = $1 and role = $2 order by position limit 1) c
     join time_chunks a on a.run_id = c.run_id and a.axis = c.axis
     join trace_chunks v on v.channel_id = c.id and v.chunk = a.chunk
     where a.t_to >= $3 and a.t_from <= $4
     order by a.chunk`,
    [runId, role, from, to],
  );
  if (rows.length === 0) return null;
  const { name, unit } = rows[0];
  return { name, role, unit, t: Float64Array.from(rows.flatMap((r) => r.t)), values: Float64Array.from(rows.flatMap((r) => r.readings)) };
}
