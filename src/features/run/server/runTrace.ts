import { database } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { type ChannelLine, downsample } from '#core/signal/trace/downsample';
import { BLOCK, CHUNK } from '#features/run/store/packTrace';
import { getRun, type PlacedRun } from '#features/run/store/runs';
import { type LoadedChannel, loadChannel, loadTrace, type TraceLevel } from '#features/run/store/traces';
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
  const channels = (await isInLog(id, level)) ? await samplesFromLog(run) : await loadTrace(db, id, start, end, level);
  return { from: start, to: end, lines: channels.map((c) => thinned(c, start, end, columns, run.result.period_s)) };
}

/** The whole of one channel of a run, thinned: of the first role that it has; null where it has none of them. */
export async function runLine(run: PlacedRun, roles: string[], columns: number): Promise<ChannelLine | null> {
  const { id } = run;
  const { duration_s, period_s } = run.result;
  const level = levelFor(duration_s / period_s / columns);
  const all = (await isInLog(id, level)) ? await samplesFromLog(run) : null;
  for (const role of roles) {
    const channel = all ? all.find((c) => c.role === role) : await loadChannel(database(), id, role, 0, duration_s, level);
    if (channel) return thinned(channel, 0, duration_s, columns, period_s);
  }
  return null;
}

/** Whether single readings are wanted of a run that keeps them in its log only. */
const isInLog = async (id: number, level: TraceLevel): Promise<boolean> => level === 'readings' && (await samplesOf(id)) === 'dropped';

function thinned(c: LoadedChannel, start: number, end: number, columns: number, period_s: number): ChannelLine {
  const line = downsample(c.t, c.values, start, end, columns, 4.2 * period_s);
  const round = (v: number) => Math.round(v * 1e4) / 1e4;
  return {
    name: c.name,
    role: c.role,
    unit: c.unit,
    t: line.t.map((s) => Math.round(s * 1000) / 1000),
    v: line.v.map((v) => (v === null ? null : round(v))),
  };
}

/** The coarsest level that still gives every column of the screen two stretches of its own. */
const levelFor = (perColumn: number): TraceLevel => (perColumn > 2 * CHUNK ? 'chunks' : perColumn > 2 * BLOCK ? 'blocks' : 'readings');
