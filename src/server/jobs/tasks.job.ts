import { type AnalysisOptions, type AnalysisRow, analyse } from '#core/compare/analyse';
import { LogError, type LogOptions } from '#core/logs/types';
import { drawOrder } from '#core/plan/order';
import type { OrderPlan } from '#core/plan/orderTypes';
import { displayRise, type LogFile, reduceLogs } from '#core/reduce/reduceLogs';
import type { ReduceOptions, Reduction } from '#core/reduce/types';
import type { StoredChannel } from '#db/traces';

export interface ReductionJob {
  files: LogFile[];
  reading: LogOptions;
  options: Partial<ReduceOptions>;
  offsets: Record<string, number>;
}

export type ReductionOutcome =
  | { ok: true; reduction: Reduction; axes: Float64Array[]; channels: StoredChannel[]; start_epoch_s: number | null; zoned: boolean }
  | { ok: false; problem: string };

/** Reads and reduces the files of one run. A file that cannot be read is an answer, not a crash of the worker. */
export function reduceFiles(job: ReductionJob): ReductionOutcome {
  try {
    const run = reduceLogs(job.files, job.reading, job.options, job.offsets);
    const axes: Float64Array[] = [];
    const axisOf = (t: Float64Array) => {
      const known = axes.indexOf(t);
      return known >= 0 ? known : axes.push(t) - 1;
    };
    const channels = run.trace.channels.map(({ name, file, role, unit, t, values }): StoredChannel => ({ name, file, role, unit, axis: axisOf(t), values }));
    const rise = displayRise(run, job.options);
    if (rise) channels.unshift({ name: 'Rise', file: '', role: 'rise', unit: 'K', axis: axisOf(rise.t), values: rise.values });
    return { ok: true, reduction: run.reduction, axes, channels, start_epoch_s: run.logs[0].time.start_epoch_s, zoned: run.logs[0].time.zoned };
  } catch (error) {
    if (error instanceof LogError) return { ok: false, problem: error.message };
    throw error;
  }
}

export interface OrderJob {
  plan: OrderPlan;
  seed: number;
}

export function drawMounts({ plan, seed }: OrderJob) {
  return drawOrder(plan, seed);
}

export interface ComparisonJob {
  rows: AnalysisRow[];
  options: Partial<AnalysisOptions>;
}

export function compareRuns(job: ComparisonJob) {
  return analyse(job.rows, job.options);
}
