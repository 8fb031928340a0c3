import { database } from '#app/database/pool';
import type { LogOptions } from '#core/signal/logs/types';
import { listLoggedRuns } from '#features/run/store/runs';

/** A stored run whose logs may hold a step of power. */
export interface StepRun {
  run_id: number;
  study: string;
  name: string;
  files: string[];
  reading: LogOptions;
  /** usual time between readings, s */
  period_s: number | null;
}

/** Runs with logs, those with the most readings a second first: they tell a step best. */
export const stepRuns = async (): Promise<StepRun[]> =>
  (await listLoggedRuns(database())).map(({ run_id, study, specimen, mount, run, files, reading, period_s }) => ({
    ...{ run_id, study, files, period_s },
    reading: (reading ?? {}) as LogOptions,
    name: `${specimen}, mount ${mount}, run ${run}`,
  }));
