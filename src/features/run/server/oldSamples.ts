import { promisify } from 'node:util';
import { constants, deflateRaw } from 'node:zlib';
import { type Client, database, transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import type { LogOptions } from '#core/signal/logs/types';
import type { ReduceOptions } from '#core/signal/reduce/types';
import { type PackedAxis, type PackedChannel, unpackDoubles, unpackFloats } from '#features/run/store/packTrace';
import { getRun, type PlacedRun } from '#features/run/store/runs';
import {
  deleteTrace,
  dropSamples,
  getSamples,
  listAged,
  listPlain,
  lockSamples,
  type SamplesState,
  setSamples,
  storePacked,
} from '#features/run/store/samples';
import { insertAxes, insertChannels } from '#features/run/store/traces';
import { keptSources, streamReduction } from './streamReduction';

/** Stretches that are packed between two questions to the store. */
const AT_ONCE = 64;

const pack = promisify(deflateRaw);
/** Samples of instruments repeat themselves: the best that this packs is worth its time, which nobody waits for. */
const PACKING = { level: constants.Z_BEST_COMPRESSION };

/** After how many days samples are packed, and dropped; null where they never are. */
export interface SampleAges {
  pack_days: number | null;
  drop_days: number | null;
}

/**
 * Packs and drops the samples of runs that are old enough, one run at a time, each in a transaction of its own. What is dropped can be read
 * again from the log, which is kept.
 * @param signal ends it between two runs
 * @returns how many runs were packed and dropped
 */
export async function ageSamples({ pack_days, drop_days }: SampleAges, signal?: AbortSignal): Promise<{ packed: number; dropped: number }> {
  const dropped = drop_days === null ? 0 : await whileAged(drop_days, ['whole', 'packed'], dropRun, signal);
  const packed = pack_days === null ? 0 : await whileAged(pack_days, ['whole'], packRun, signal);
  return { packed, dropped };
}

async function whileAged(
  days: number,
  states: SamplesState['state'][],
  work: (client: Client, runId: number) => Promise<void>,
  signal?: AbortSignal,
): Promise<number> {
  let done = 0;
  for (const id of await listAged(database(), days, states)) {
    if (signal?.aborted) break;
    done += await transaction(async (client) => {
      // another process may be at it, or have been
      if (!(await lockSamples(client, id)) || !states.includes((await getSamples(client, id))?.state ?? 'whole')) return 0;
      await work(client, id);
      return 1;
    });
  }
  return done;
}

async function dropRun(client: Client, runId: number): Promise<void> {
  await dropSamples(client, runId);
  await setSamples(client, runId, 'dropped');
}

async function packRun(client: Client, runId: number): Promise<void> {
  for (;;) {
    const plain = await listPlain(client, runId, AT_ONCE);
    if (plain.length === 0) break;
    for (const chunk of plain) await storePacked(client, runId, chunk, await pack(chunk.bytes, PACKING));
  }
  await setSamples(client, runId, 'packed');
}

/** How the samples of a run are kept, for its page. */
export const samplesOf = async (runId: number): Promise<SamplesState['state']> => (await getSamples(database(), runId))?.state ?? 'whole';

/**
 * Reads the samples of a run again from its log and keeps them as if it had been stored today.
 * @throws Refusal where there is no such run, or its log cannot be read
 */
export async function bringSamplesBack(runId: number): Promise<{ state: 'whole' }> {
  const run = await demandRun(runId);
  const { axes, channels, rise } = await traceAnew(run);
  await transaction(async (client) => {
    if (!(await lockSamples(client, runId)))
      throw new Refusal('The samples of this run are being packed or read by somebody else. Try again in a moment.', 409);
    await deleteTrace(client, runId);
    await insertAxes(client, runId, axes);
    await insertChannels(client, runId, 1, channels);
    if (rise) await insertChannels(client, runId, 0, [rise]);
    await setSamples(client, runId, 'whole');
  });
  return { state: 'whole' };
}

/** How long what was read from a log is kept at hand: somebody looks closer at it, ms. */
const AT_HAND_MS = 30_000;
let atHand: { key: string; reading: Promise<LogChannel[]>; timer: NodeJS.Timeout } | null = null;

interface LogChannel {
  name: string;
  role: string;
  unit: string | null;
  t: Float64Array;
  values: Float64Array;
}

/** Every sample of a run, the rise first, from its log; that of the run that was asked for last is kept for half a minute. */
export function samplesFromLog(run: PlacedRun): Promise<LogChannel[]> {
  if (atHand) clearTimeout(atHand.timer);
  // how it is read may change meanwhile
  const key = JSON.stringify([run.id, run.reading, run.options]);
  const reading = atHand?.key === key ? atHand.reading : readSamples(run);
  const forget = () => {
    if (atHand?.reading === reading) atHand = null;
  };
  // what could not be read is read again next time
  reading.catch(forget);
  atHand = { key, reading, timer: setTimeout(forget, AT_HAND_MS).unref() };
  return reading;
}

async function readSamples(run: PlacedRun): Promise<LogChannel[]> {
  const { axes, channels, rise } = await traceAnew(run);
  const times = axes.map((a) => unpackDoubles(Buffer.from(a.t)));
  return [...(rise ? [rise] : []), ...channels].map(({ name, role, unit, axis, readings }) => ({
    ...{ name, role, unit, t: times[axis] },
    values: Float64Array.from(unpackFloats(Buffer.from(readings))),
  }));
}

/** The trace of a run as its log gives it; nothing is stored. */
async function traceAnew(run: PlacedRun): Promise<{ axes: PackedAxis[]; channels: PackedChannel[]; rise: PackedChannel | null }> {
  const kept: { axes: PackedAxis[]; channels: PackedChannel[] } = { axes: [], channels: [] };
  const outcome = await streamReduction({
    ...{ sources: await keptSources(run.id), reading: run.reading as LogOptions, options: run.options as Partial<ReduceOptions> },
    offsets: run.result.clock_offset_s,
    onTrace: (axes, channels) => Object.assign(kept, { axes, channels }),
  });
  if (!outcome.ok) throw new Refusal(outcome.problem);
  return { ...kept, rise: outcome.rise };
}

async function demandRun(id: number): Promise<PlacedRun> {
  const run = await getRun(database(), id);
  if (!run) throw new Refusal(`There is no run ${id}.`, 404);
  if (run.typed) throw new Refusal('This run was typed: it has no log whose samples could be read.');
  return run;
}
