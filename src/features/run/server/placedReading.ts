import { insertChange } from '#app/database/changes';
import { type Client, database, transaction } from '#app/database/pool';
import type { LogOptions } from '#core/signal/logs/types';
import type { ReduceOptions } from '#core/signal/reduce/types';
import { lockRun, updateReading } from '#features/run/store/judgements';
import { getRun, listMountRuns, type PlacedRun } from '#features/run/store/runs';
import { reductionOptions } from './importRun';
import { judgedFigures } from './judge';
import { readAnew } from './readAnew';

/** A place a run is read at. */
interface ReadingPlace {
  study_id: number;
  specimen_id: number;
  rig_id: number;
  /** null for a new mount */
  mount_id: number | null;
}

/** How a run is read at a place; the room, the window and the decisions about the run itself come with it. */
export async function optionsThere(db: Client, run: PlacedRun, at: ReadingPlace, load: string | null): Promise<Partial<ReduceOptions>> {
  const { accept, window, ambient_probes, marks, awaited, room_c, room_u_k } = run.options as Partial<ReduceOptions>;
  const place = { ...at, load };
  const there = await reductionOptions(db, { place, sensor: null, room_c: room_c ?? null, room_u_k: room_u_k ?? null });
  const kept = { accept, window, ambient_probes, marks, awaited };
  return { ...there, ...Object.fromEntries(Object.entries(kept).filter(([, v]) => v !== undefined)) };
}

/** The run a mount's other runs start like: its first under the same load, or its first at all; null for that run itself. */
function firstOf(run: PlacedRun, runs: PlacedRun[]): PlacedRun | null {
  const first = runs.find((r) => r.load === run.load) ?? runs[0];
  return first && first.id !== run.id ? first : null;
}

const same = (a: unknown, b: unknown): boolean => JSON.stringify(a ?? null) === JSON.stringify(b ?? null);

/**
 * Reads runs of a mount anew whose first run is another one now, since one was moved, deleted or came back: what they start like is judged
 * against it. The journal of each keeps what it read before.
 */
export async function readFollowers(mountId: number): Promise<void> {
  const runs = await listMountRuns(database(), mountId);
  for (const run of runs) {
    const first = firstOf(run, runs)?.result.start_state ?? null;
    const options = run.options as Partial<ReduceOptions>;
    if (!same(options.first, first)) await readUnderOptions(run, { ...options, first }, 'The first run of the mount has changed.');
  }
}

/** Reads all runs of a mount anew as its study, specimen and rig ask. */
export async function readMount(mountId: number, reason: string): Promise<void> {
  const runs = await listMountRuns(database(), mountId);
  for (const run of runs) {
    const options = await optionsThere(database(), run, run, run.load);
    await readUnderOptions(run, { ...options, first: firstOf(run, runs)?.result.start_state ?? null }, reason);
  }
}

async function readUnderOptions(run: PlacedRun, options: Partial<ReduceOptions>, reason: string): Promise<void> {
  const { findings, ...result } = await readAnew(run, run.reading as LogOptions, options);
  await transaction(async (client) => {
    await lockRun(client, run.id);
    const now = await getRun(client, run.id);
    if (!now) return;
    await updateReading(client, run.id, result, findings, { reading: now.reading, options }, now.automatic);
    await insertChange(client, {
      ...{ subject: 'run', subject_id: run.id, action: 'reread', who: '', reason },
      before: judgedFigures(now),
      after: judgedFigures({ result }),
    });
  });
}
