import { database } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { getRun, type PlacedRun } from '#features/run/store/runs';
import { loadChannel } from '#features/run/store/traces';
import { samplesFromLog, samplesOf } from './oldSamples';

/** More readings than this are asked for part by part. */
const MOST_READINGS = 1_000_000;

/**
 * Every reading of the rise within the sustained load, or within a part of it, as bytes for the browser's worker: their count as a 32-bit
 * number, padded to eight bytes, the times as 64-bit and the values as 32-bit numbers, in the machine's order.
 */
export async function riseBytes(id: number, from: number | null = null, to: number | null = null): Promise<ArrayBuffer> {
  const run = await getRun(database(), id);
  if (!run) throw new Refusal(`There is no run ${id}.`, 404);
  const load = run.result.stages.find((s) => s.stage === 'sustained');
  if (load && to === null && (load.end_s - load.start_s) / run.result.period_s > 1.2 * MOST_READINGS)
    throw tooMany((load.end_s - load.start_s) / run.result.period_s);
  const start_s = Math.max(load?.start_s ?? 0, from ?? Number.NEGATIVE_INFINITY);
  const end_s = Math.min(load?.end_s ?? 0, to ?? Number.POSITIVE_INFINITY);
  const rise = load && (await riseBetween(run, start_s, end_s));
  if (!rise) throw new Refusal('This run has no rise in a sustained load.', 404);
  const n = rise.t.length;
  if (n > MOST_READINGS) throw tooMany(n);
  const buffer = new ArrayBuffer(8 + 12 * n);
  new Uint32Array(buffer, 0, 1)[0] = n;
  new Float64Array(buffer, 8, n).set(rise.t);
  new Float32Array(buffer, 8 + 8 * n, n).set(rise.values);
  return buffer;
}

/** The rise between two times; from the log where the samples lie there alone. */
async function riseBetween(run: PlacedRun, start_s: number, end_s: number): Promise<{ t: Float64Array; values: Float64Array } | null> {
  const rise =
    (await samplesOf(run.id)) === 'dropped'
      ? ((await samplesFromLog(run)).find((c) => c.role === 'rise') ?? null)
      : await loadChannel(database(), run.id, 'rise', start_s, end_s);
  // whole chunks are loaded
  const isIn = (_: number, i: number) => (rise?.t[i] ?? 0) >= start_s && (rise?.t[i] ?? 0) <= end_s;
  return rise && { t: rise.t.filter(isIn), values: rise.values.filter(isIn) };
}

const tooMany = (readings: number): Refusal =>
  new Refusal(`The load has about ${Math.round(readings)} readings; up to ${MOST_READINGS} are sent at once. Ask for a part of it.`, 413);
