import path from 'node:path';
import type { Transferable } from 'node:worker_threads';
import { Piscina } from 'piscina';

let workers: Piscina | null = null;

/** Worker threads for what computes long: reductions, comparisons and orders never run on the server's event loop. */
function pool(): Piscina {
  workers ??= new Piscina({
    filename: path.join(process.cwd(), 'build', 'tasks.job.mjs'),
    // a thread that is not needed goes, and with it what it held of a large log
    minThreads: 0,
    maxThreads: 4,
    idleTimeout: 30_000,
  });
  return workers;
}

interface TaskOptions {
  /** handed over to the thread instead of being copied */
  transferList?: Transferable[];
  signal?: AbortSignal;
}

// biome-ignore lint/suspicious/noExplicitAny: each task has a job of its own
type Tasks = Record<string, (job: any) => unknown>;

/** The same tasks, each answered by a worker thread. */
type InThreads<T extends Tasks> = {
  [K in keyof T]: (job: Parameters<T[K]>[0], options?: TaskOptions) => Promise<Awaited<ReturnType<T[K]>>>;
};

/**
 * Tasks of a feature as they are asked for by the server: called here, computed by a worker thread.
 * @param tasks known to `src/tasks.job.ts` under the same names
 */
export const inThreads = <T extends Tasks>(tasks: T): InThreads<T> =>
  Object.fromEntries(
    Object.keys(tasks).map((task) => [task, (job: unknown, options?: TaskOptions) => pool().run({ task, job }, options)]),
  ) as InThreads<T>;

/** Ends the worker threads; what they were at is lost. */
export async function closeWorkers(): Promise<void> {
  await workers?.close({ force: true });
  workers = null;
}
