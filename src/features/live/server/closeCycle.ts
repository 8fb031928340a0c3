import { database } from '#app/database/pool';
import { log } from '#app/log';
import { Refusal } from '#app/refusal';
import type { Unit } from '#core/units/units';
import { UNITS } from '#core/units/units';
import { type Batch, type CycleRow, finishCycle, listBatches, listCycles, type PlacedLive } from '#features/live/store/live';
import { ImportPlan } from '#features/run/model/importPlan';
import { importRun } from '#features/run/server/importRun';
import { judgeRun } from '#features/run/server/judge';
import type { LiveSource } from '#features/shelf/model/channelMap';
import { check } from '#rules/validation';

/** Why cycles that are no runs of their study take no part in its means. */
const WHY_NOT = { conditioning: 'Conditioning cycle', limit_test: 'Test to the limit' } as const;

/** Rows of a written log that are joined at a time. */
const ROWS = 2000;

/**
 * Turns the closed cycles of a live run into runs: their readings are written as one log a source and go the way of an import, so that the
 * value, the findings, the original files and a later judgement are those of any run. The import's id stands in the store, so that doing it
 * twice gives one run.
 */
export async function closeCycles(live: PlacedLive): Promise<boolean> {
  const open = (await listCycles(database(), live.id)).filter((c) => c.run_id === null && c.problem === null);
  for (const cycle of open) {
    try {
      const logs = await logsOf(live, cycle);
      const run = await importRun(
        planOf(live, cycle, logs),
        logs.map(({ name, bytes }) => ({ name, bytes })),
        { marks: marksOf(live, cycle), awaited: live.settings.awaited },
      );
      if (live.settings.kind !== 'run')
        await judgeRun(run.run_id, {
          action: 'exclude',
          reason: `${WHY_NOT[live.settings.kind]} ${cycle.cycle}, no run of its study.`,
          who: live.who,
        });
      await finishCycle(database(), live.id, cycle.cycle, run.run_id, null);
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      log.warn({ err: error }, 'a cycle is no run');
      await finishCycle(database(), live.id, cycle.cycle, null, error.message);
    }
  }
  return open.length > 0;
}

interface WrittenLog {
  source: LiveSource;
  name: string;
  bytes: Uint8Array;
}

function planOf(live: PlacedLive, cycle: CycleRow, logs: WrittenLog[]): ImportPlan {
  const channels = logs.flatMap((l) => l.source.channels);
  return check(ImportPlan, {
    import_id: cycle.import_id,
    place: { study_id: live.study_id, specimen_id: live.specimen_id, mount_id: live.mount_id, rig_id: live.rig_id },
    reading: { roles: Object.fromEntries(channels.map((c) => [c.name, c.role])), keep_guesses: false },
    ...(channels.some((c) => c.role === 'ambient') ? {} : { room_c: live.settings.room_c }),
  });
}

/** Events marked within a cycle, from its first reading. */
const marksOf = (live: PlacedLive, cycle: CycleRow): { event: string; at_s: number }[] =>
  live.state.marks
    .filter((m) => m.at_s >= cycle.from_s && m.at_s < cycle.to_s)
    .map((m) => ({ event: m.event, at_s: m.at_s - cycle.from_s }));

/** The readings of a cycle as logs, the one with the part's sensors first: it carries the clock. */
async function logsOf(live: PlacedLive, cycle: CycleRow): Promise<WrittenLog[]> {
  const batches = await listBatches(database(), live.id, cycle.from_s, cycle.to_s);
  const start = live.started_at.getTime() / 1000;
  const sources = live.sources.filter((s) => batches.some((b) => b.source === s.name));
  const bySensors = (s: LiveSource) => -s.channels.filter((c) => c.role === 'sensor').length;
  return [...sources]
    .sort((a, b) => bySensors(a) - bySensors(b))
    .flatMap((source) => {
      const text = writeReadings(
        source,
        batches.filter((b) => b.source === source.name),
        start,
        cycle,
      );
      const name = `live ${live.id} cycle ${cycle.cycle} ${source.name.replace(/[^\w. -]+/g, '_')}.csv`;
      return text === null ? [] : [{ source, name, bytes: new TextEncoder().encode(text) }];
    });
}

/** Readings of a source as CSV, every figure as it was; null where none falls into the cycle. */
function writeReadings(source: LiveSource, batches: Batch[], start_epoch_s: number, { from_s, to_s }: CycleRow): string | null {
  const symbol = (unit: Unit | null) => (unit ? ` (${UNITS[UNITS[unit].base].symbol})` : '');
  const rows: { t: number; batch: Batch; i: number }[] = [];
  for (const batch of batches)
    for (let i = 0; i < batch.t.length; i++) if (batch.t[i] >= from_s && batch.t[i] < to_s) rows.push({ t: batch.t[i], batch, i });
  if (rows.length === 0) return null;
  rows.sort((a, b) => a.t - b.t);
  const parts = [`${['Time', ...source.channels.map((c) => `${c.name}${symbol(c.unit)}`)].join(',')}\n`];
  for (let at = 0; at < rows.length; at += ROWS) {
    parts.push(
      rows
        .slice(at, at + ROWS)
        .map(({ t, batch, i }) => {
          const value = (name: string) => {
            const v = batch.channels.find((c) => c.name === name)?.values[i] ?? Number.NaN;
            return Number.isNaN(v) ? '' : String(Number(v.toPrecision(10)));
          };
          return `${[new Date(Math.round(1000 * (start_epoch_s + t))).toISOString(), ...source.channels.map((c) => value(c.name))].join(',')}\n`;
        })
        .join(''),
    );
  }
  return parts.join('');
}
