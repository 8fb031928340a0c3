import { database } from '#app/database/pool';
import { log } from '#app/log';
import { Refusal } from '#app/refusal';
import { countStudies } from '#features/study/store/studies';
import { isDemoUnfinished, loadDemo } from './loadDemo';

export interface DemoProgress {
  state: 'idle' | 'loading' | 'cancelling' | 'failed';
  done: number;
  total: number;
}

/** The load that this process runs, if any. */
let progress: DemoProgress = { state: 'idle', done: 0, total: 0 };

export const demoProgress = (): DemoProgress => progress;

/** Begins to load the demo into an empty store; it goes on while the page is used. */
export async function startDemo(): Promise<DemoProgress> {
  if (progress.state === 'loading' || progress.state === 'cancelling') return progress;
  // one that was interrupted goes on where it stopped
  const begun = await isDemoUnfinished(database());
  if (!begun && (await countStudies(database())) > 0)
    throw new Refusal('The demo is loaded into an empty store only; this one has studies.', 409);
  progress = { state: 'loading', done: 0, total: 0 };
  loadDemo(
    (done, total) => {
      progress = { ...progress, done, total };
    },
    () => progress.state === 'cancelling',
  ).then(
    () => {
      progress = { ...progress, state: 'idle' };
    },
    (error) => {
      log.error({ err: error }, 'demo failed');
      progress = { ...progress, state: 'failed' };
    },
  );
  return progress;
}

/** Asks a running load to stop; what it stored is taken away again. */
export function cancelDemo(): DemoProgress {
  if (progress.state === 'loading') progress = { ...progress, state: 'cancelling' };
  return progress;
}
