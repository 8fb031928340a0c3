import path from 'node:path';
import type { MessagePort } from 'node:worker_threads';
import { Piscina } from 'piscina';
import type { Analysis } from '#core/compare/types';
import type { Forecast } from '#core/live/forecast';
import type { DrawnOrder } from '#core/plan/order';
import type { CoolerAnswer } from '#domain/coolers/answer';
import type { ResultsAnswer } from '#domain/results/answer';
import type { BeforeAfter } from '#domain/results/beforeAfter';
import type { StudyFacts } from '#domain/results/facts';
import type { RestCheck, RestKey, RestsOn } from '#domain/results/recommendation';
import type { AnswerJob, ComparisonJob, CoolersJob, ForecastJob, OrderJob, RestsJob, StreamJob, StreamOutcome } from './tasks.job';

let workers: Piscina | null = null;

/** Worker threads for what computes long: reductions, comparisons and orders never run on the server's event loop. */
function pool(): Piscina {
  workers ??= new Piscina({ filename: path.join(process.cwd(), 'build', 'tasks.job.mjs'), minThreads: 1, maxThreads: 4, idleTimeout: 30_000 });
  return workers;
}

/** @param port given to the thread, by which it is sent the bytes */
export function runStream(job: StreamJob, port: MessagePort, signal?: AbortSignal): Promise<StreamOutcome> {
  return pool().run(job, { name: 'reduceStream', transferList: [port], signal });
}

export function runComparison(job: ComparisonJob): Promise<Analysis> {
  return pool().run(job, { name: 'compareRuns' });
}

/** A comparison with its words and marks, as the results place tells it. */
export function runAnswer(job: AnswerJob): Promise<ResultsAnswer> {
  return pool().run(job, { name: 'answer' });
}

/** Coolers compared where they are held alike. */
export function runCoolers(job: CoolersJob): Promise<CoolerAnswer> {
  return pool().run(job, { name: 'coolers' });
}

/** How the verdicts stand now that words rest on. */
export function runRestChecks(job: RestsJob<RestsOn>): Promise<RestCheck[]> {
  return job.rests.length === 0 ? Promise.resolve([]) : pool().run(job, { name: 'heldAgainstNow' });
}

/** The verdicts of now that words are to rest on. */
export function runRestsNow(job: RestsJob<RestKey>): Promise<RestsOn[]> {
  return job.rests.length === 0 ? Promise.resolve([]) : pool().run(job, { name: 'verdictsNow' });
}

export function runBeforeAndAfter(facts: StudyFacts): Promise<BeforeAfter[]> {
  return pool().run(facts, { name: 'states' });
}

export function runDraw(job: OrderJob): Promise<DrawnOrder | null> {
  return pool().run(job, { name: 'drawMounts' });
}

export function runForecast(job: ForecastJob): Promise<Forecast | null> {
  return pool().run(job, { name: 'forecast' });
}

export async function closeWorkers(): Promise<void> {
  await workers?.close({ force: true });
  workers = null;
}
