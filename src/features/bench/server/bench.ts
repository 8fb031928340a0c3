import { database } from '#app/database/pool';
import { type LiveLane, liveLanes } from '#features/live/server/liveView';
import { type Sparkline, sparkline } from '#features/run/server/sparkline';
import { listWaitingRuns, MOST_WAITING, type WaitingRun } from '#features/run/store/runs';
import { type BenchRow, benchRows } from '#features/shelf/store/rigs';
import { countStudies } from '#features/study/store/studies';
import { missingBackup } from './backups';
import { benchQueue, type QueuedMount } from './queue';
import { roomWarning, storeRoom } from './storeRoom';

interface BenchView {
  lanes: (BenchRow & { line: Sparkline | null })[];
  waiting: { runs: WaitingRun[]; total: number };
  studies: number;
  live: LiveLane[];
  queue: QueuedMount[];
  /** that the disk of the store is about to be full, or that backups are missing */
  warnings: string[];
}

/** Rigs seen first on the bench, and runs that wait for a judgement. */
const MOST_RIGS = 12;
const MOST_RUNS = 12;

/** What the bench shows: each rig with its newest run, and what asks for a look. */
export async function benchView(): Promise<BenchView> {
  const db = database();
  const [lanes, waiting, studies, live, queue, room, backup] = await Promise.all([
    benchRows(db, MOST_RIGS).then((rigs) => Promise.all(rigs.map(withLine))),
    listWaitingRuns(db, MOST_RUNS),
    countStudies(db),
    ...([liveLanes(), benchQueue(), storeRoom(), missingBackup()] as const),
  ]);
  return { lanes, waiting, studies, live, queue, warnings: [roomWarning(room), backup].filter((w) => w !== null) };
}

const withLine = async (rig: BenchRow) => ({
  ...rig,
  line: rig.last_run_id && rig.last_run_state ? await sparkline(rig.last_run_id, rig.last_run_state) : null,
});

export { MOST_WAITING };
