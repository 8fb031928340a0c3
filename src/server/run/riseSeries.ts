import { database } from '#db/pool';
import { getRun } from '#db/runs';
import { loadChannel } from '#db/traces';
import { Refusal } from '../refusal';

/** More readings than this are judged on the server alone. */
const MOST_READINGS = 1_000_000;

/**
 * Every reading of the rise within the sustained load, as bytes for the browser's worker: their count as a 32-bit number, padded to
 * eight bytes, the times as 64-bit and the values as 32-bit numbers, in the machine's order.
 */
export async function riseSeries(id: number): Promise<ArrayBuffer> {
  const run = await getRun(database(), id);
  if (!run) throw new Refusal(`There is no run ${id}.`, 404);
  const load = run.result.stages.find((s) => s.stage === 'sustained');
  const rise = load && (await loadChannel(database(), id, 'rise', load.start_s, load.end_s));
  if (!rise) throw new Refusal('This run has no rise in a sustained load.', 404);
  const n = rise.t.length;
  if (n > MOST_READINGS) throw new Refusal(`The load has ${n} readings; up to ${MOST_READINGS} are sent at once. A window is judged on the server.`, 413);
  const buffer = new ArrayBuffer(8 + 12 * n);
  new Uint32Array(buffer, 0, 1)[0] = n;
  new Float64Array(buffer, 8, n).set(rise.t);
  new Float32Array(buffer, 8 + 8 * n, n).set(rise.values);
  return buffer;
}
