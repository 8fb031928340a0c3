import { database } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { type ChannelLine, downsample } from '#core/signal/trace/downsample';
import { BLOCK, CHUNK } from '#features/run/store/packTrace';
import { getRun } from '#features/run/store/runs';
import { loadTrace, type TraceLevel } from '#features/run/store/traces';
import { samplesFromLog, samplesOf } from './oldSamples';

/** The lines of a run between two times, thinned to what the screen can show. Figures carry four decimals at most. */
export async function runTrace(
  id: number,
  from: number | null,
  to: number | null,
  columns: number,
): Promise<{ from: number; to: number; lines: ChannelLine[] }> {
  const db = database();
  const run = await getRun(db, id);
  if (!run) throw new Refusal(`There is no run ${id}.`, 404);
  const start = from ?? 0;
  const end = to ?? run.result.duration_s;
  if (!(end > start)) throw new Refusal('The span of time must end after it begins.');
  const level = levelFor((end - start) / run.result.period_s / columns);
  const inLog = level === 'readings' && (await samplesOf(id)) === 'dropped';
  const channels = inLog ? await samplesFromLog(run) : await loadTrace(db, id, start, end, level);
  const round = (v: number) => Math.round(v * 1e4) / 1e4;
  return {
    from: start,
    to: end,
    lines: channels.map((c) => {
      const line = downsample(c.t, c.values, start, end, columns, 4.2 * run.result.period_s);
      return {
        name: c.name,
        role: c.role,
        unit: c.unit,
        t: line.t.map((s) => Math.round(s * 1000) / 1000),
        v: line.v.map((v) => (v === null ? null : round(v))),
      };
    }),
  };
}

/** The coarsest level that still gives every column of the screen two stretches of its own. */
const levelFor = (perColumn: number): TraceLevel => (perColumn > 2 * CHUNK ? 'chunks' : perColumn > 2 * BLOCK ? 'blocks' : 'readings');
