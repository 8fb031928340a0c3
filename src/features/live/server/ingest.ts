import { database, transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { toBase } from '#core/units/units';
import {
  type Batch,
  countRefusal,
  getLive,
  insertBatch,
  insertOrder,
  listOverlapping,
  lockSource,
  type PlacedLive,
  saveClockOffset,
} from '#features/live/store/live';
import type { LiveSource } from '#features/shelf/model/channelMap';

/** A reading that a device pushed. */
interface Pushed {
  seq: number;
  /** seconds since 1970 on the device's clock */
  t: number;
  values: Record<string, number | null>;
}

interface PushAnswer {
  /** sequence numbers that are stored now, those that were before among them */
  stored: number[];
  refused: { line: number; seq: number | null; error: string }[];
  /** what the run asks of a load that the device switches itself; left out where it has none */
  load?: 'on' | 'off';
}

export const MOST_PUSH_BYTES = 2 * 1024 * 1024;
const MOST_LINES = 5000;
/** Clocks further apart than this are told of; steps of a known clock beyond it are refused. */
const SAME_CLOCK_S = 5;
const CLOCK_STEP_S = 60;

/**
 * Stores readings that a device pushes, a JSON object a line: source, seq, t in seconds since 1970, and values by channel. The answer names
 * the sequence numbers that are stored; it is given after the commit. Repeating a number with the same values is harmless, with others it
 * is refused.
 */
export async function takePush(liveId: number, body: () => Promise<string>): Promise<PushAnswer> {
  const live = await getLive(database(), liveId);
  if (!live) throw new Refusal(`There is no live run ${liveId}.`, 404);
  const text = await body().catch(async (error) => {
    const message = `A push was larger than the ${MOST_PUSH_BYTES / 1048576} MB that are accepted at once; send fewer readings together.`;
    if (!(error instanceof Refusal) || error.status !== 413) throw error;
    await countRefusal(database(), liveId, 'push', 'too_large', message);
    throw new Refusal(message, 413);
  });
  const lines = text.split('\n').flatMap((line, i) => (line.trim() === '' ? [] : { line: i + 1, text: line }));
  if (lines.length > MOST_LINES) throw new Refusal(`A push holds up to ${MOST_LINES} readings; this one has ${lines.length}.`, 413);
  const answer: PushAnswer = { stored: [], refused: [], ...loadOf(live) };
  const bySource = new Map<string, { line: number; reading: Pushed }[]>();
  for (const { line, text: said } of lines) {
    const read = readLine(said, live);
    if ('error' in read) answer.refused.push({ line, seq: read.seq, error: read.error });
    else bySource.set(read.source, [...(bySource.get(read.source) ?? []), { line, reading: read.reading }]);
  }
  if (live.ended_at || live.state.stage === 'finished' || live.state.stage === 'stopped') {
    await countRefusal(
      database(),
      liveId,
      [...bySource.keys()][0] ?? 'push',
      'run_over',
      'Readings came after the run was over.',
      Math.max(1, lines.length),
    );
    throw new Refusal(`Live run ${liveId} is over; it takes no more readings.`, 409);
  }
  for (const [name, readings] of bySource) await storeSource(live, name, readings, answer);
  const ended = lines.flatMap(({ text: said }) => loadEnded(said)).at(-1);
  // whoever follows the run holds it: a load that its own device has ended is not asked for again by itself
  if (ended && answer.load && !live.state.held) await insertOrder(database(), liveId, 'hold', { reason: ended }, '');
  for (const r of answer.refused) await countRefusal(database(), liveId, 'push', 'line_refused', r.error);
  return answer;
}

/** What a run asks of the load of a device that pushes and switches it itself. */
function loadOf({ sources, state }: PlacedLive): Pick<PushAnswer, 'load'> {
  if (!sources.some((s) => s.address.kind === 'push' && s.switch_on && s.switch_off)) return {};
  return { load: state.load_wanted && !state.held ? 'on' : 'off' };
}

/** Why a device has ended its own load, where a line says so. */
function loadEnded(line: string): string[] {
  try {
    const { load_ended } = JSON.parse(line) as { load_ended?: unknown };
    return typeof load_ended === 'string' && load_ended.trim() ? [load_ended.trim().slice(0, 300)] : [];
  } catch {
    return [];
  }
}

function readLine(text: string, live: PlacedLive): { source: string; reading: Pushed } | { seq: number | null; error: string } {
  let said: Record<string, unknown>;
  try {
    said = JSON.parse(text);
  } catch {
    return { seq: null, error: 'The line is not valid JSON.' };
  }
  if (typeof said !== 'object' || said === null || Array.isArray(said))
    return { seq: null, error: 'A line is a JSON object with source, seq, t and values.' };
  const { source, seq, t, values } = said;
  if (!Number.isSafeInteger(seq) || (seq as number) < 1) return { seq: null, error: 'seq is a whole number from 1.' };
  const number = seq as number;
  const known = live.sources.find(
    (s) => s.address.kind === 'push' && (s.name === source || live.sources.filter((o) => o.address.kind === 'push').length === 1),
  );
  if (!known) return { seq: number, error: `"${String(source).slice(0, 80)}" is not a pushing source of this run.` };
  if (typeof t !== 'number' || !Number.isFinite(t)) return { seq: number, error: 't is a number of seconds since 1970.' };
  if (typeof values !== 'object' || values === null || Array.isArray(values))
    return { seq: number, error: 'values is an object of figures by channel.' };
  for (const [name, value] of Object.entries(values)) {
    if (!known.channels.some((c) => c.name === name))
      return { seq: number, error: `${known.name} has no channel "${name.slice(0, 80)}" on its sheet.` };
    if (value !== null && (typeof value !== 'number' || !Number.isFinite(value) || Math.abs(value) >= 9.9e37))
      return { seq: number, error: `The value of ${name} is not a number; send null where there is none.` };
  }
  return { source: known.name, reading: { seq: number, t, values: values as Pushed['values'] } };
}

async function storeSource(live: PlacedLive, name: string, given: { line: number; reading: Pushed }[], answer: PushAnswer): Promise<void> {
  const source = live.sources.find((s) => s.name === name) as LiveSource;
  const readings = [...given].sort((a, b) => a.reading.seq - b.reading.seq);
  const refuse = (line: number, seq: number, error: string) => answer.refused.push({ line, seq, error });
  const stored: number[] = [];
  await transaction(async (client) => {
    await lockSource(client, live.id, name);
    const now = await getLive(client, live.id);
    const offset = await clockOffset(
      now ?? live,
      source,
      readings.map((r) => r.reading),
      (o) => saveClockOffset(client, live.id, name, o),
    );
    const clock = ((Date.now() - live.started_at.getTime()) / 1000) * live.time_scale;
    const known = await listOverlapping(client, live.id, name, readings[0].reading.seq, readings[readings.length - 1].reading.seq);
    const fresh: { seq: number; t: number; values: number[] }[] = [];
    for (const { line, reading } of readings) {
      const t = reading.t - live.started_at.getTime() / 1000 + offset;
      const values = source.channels.map((c) => {
        const v = reading.values[c.name];
        return v === null || v === undefined ? Number.NaN : (c.unit ? toBase(v, c.unit) : v) + source.offset;
      });
      const twin = find(known, reading.seq) ?? fresh.find((f) => f.seq === reading.seq);
      if (twin) {
        if (twin.values.every((v, i) => Object.is(v, values[i])) && Math.abs(twin.t - t) < 1e-3) stored.push(reading.seq);
        else refuse(line, reading.seq, `Reading ${reading.seq} of ${name} was stored before with other figures; the stored ones are kept.`);
      } else if (t > clock + CLOCK_STEP_S * live.time_scale || t < clock - 86_400 * live.time_scale) {
        refuse(
          line,
          reading.seq,
          `The time of reading ${reading.seq} is ${Math.abs(Math.round(t - clock))} s ${t > clock ? 'ahead of' : 'behind'} the run: did the clock of ${name} jump?`,
        );
      } else fresh.push({ seq: reading.seq, t, values });
    }
    for (const part of consecutive(fresh)) {
      const batch: Batch = {
        ...{ source: name, seq_from: part[0].seq, t: Float64Array.from(part, (r) => r.t) },
        channels: source.channels.map((c, i) => ({ name: c.name, values: Float64Array.from(part, (r) => r.values[i]) })),
      };
      await insertBatch(client, live.id, batch);
      stored.push(...part.map((r) => r.seq));
    }
  });
  answer.stored.push(...stored);
}

/** What is added to a device's times: as its sheet says, as it was found, or found now from its newest reading. */
async function clockOffset(
  live: PlacedLive,
  source: LiveSource,
  readings: Pushed[],
  keep: (offset: number) => Promise<void>,
): Promise<number> {
  const said = source.clock_offset_s ?? live.clocks[source.name] ?? null;
  if (said !== null) return said;
  const now = ((Date.now() - live.started_at.getTime()) / 1000) * live.time_scale;
  const apart = now - (Math.max(...readings.map((r) => r.t)) - live.started_at.getTime() / 1000);
  const offset = live.time_scale === 1 && Math.abs(apart) < SAME_CLOCK_S ? 0 : apart;
  await keep(offset);
  if (live.time_scale === 1 && offset !== 0) {
    const message = `Its clock is ${Math.abs(Math.round(offset))} s ${offset > 0 ? 'behind' : 'ahead of'} the run's; that much is ${offset > 0 ? 'added to' : 'taken off'} its times.`;
    await countRefusal(database(), live.id, source.name, 'other_clock', message);
  }
  return offset;
}

function find(batches: Batch[], seq: number): { t: number; values: number[] } | null {
  const batch = batches.find((b) => b.seq_from <= seq && seq < b.seq_from + b.t.length);
  if (!batch) return null;
  const i = seq - batch.seq_from;
  return { t: batch.t[i], values: batch.channels.map((c) => c.values[i]) };
}

/** Stretches of sequence numbers without a hole. */
function consecutive<T extends { seq: number }>(sorted: T[]): T[][] {
  const parts: T[][] = [];
  for (const r of sorted) {
    const last = parts.at(-1);
    if (last && last[last.length - 1].seq + 1 === r.seq) last.push(r);
    else parts.push([r]);
  }
  return parts;
}
