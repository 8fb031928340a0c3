import path from 'node:path';
import { Piscina } from 'piscina';
import type { Analysis } from '#core/compare/analyse';
import type { ComparisonJob, ReductionJob, ReductionOutcome } from './reduction.job';

let workers: Piscina | null = null;

/** Worker threads for what computes long: reductions and comparisons never run on the server's event loop. */
function pool(): Piscina {
  workers ??= new Piscina({ filename: path.join(process.cwd(), 'build', 'reduction.job.mjs'), minThreads: 1, maxThreads: 2, idleTimeout: 30_000 });
  return workers;
}

export function runReduction(job: ReductionJob): Promise<ReductionOutcome> {
  return pool().run(job, { name: 'reduceFiles' });
}

export function runComparison(job: ComparisonJob): Promise<Analysis> {
  return pool().run(job, { name: 'compareRuns' });
}

export async function closeWorkers(): Promise<void> {
  await workers?.close({ force: true });
  workers = null;
}
