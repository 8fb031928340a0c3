import { log } from '#app/log';
import { labSettings } from '#app/settings';
import { emptyOldBin } from '#features/run/server/bin';
import { ageSamples } from '#features/run/server/oldSamples';
import { backUpWhenDue } from './backups';

const FIRST_MS = 60_000;
const EVERY_MS = 3_600_000;

/** What the lab asks to be done by itself, every hour: a backup a day, the bin's thirty days, and old samples. Several processes may do it at once. */
export class Housekeeping {
  private timer: NodeJS.Timeout | null = null;
  private readonly stopped = new AbortController();
  private working: Promise<void> = Promise.resolve();

  start(): void {
    this.plan(FIRST_MS);
  }

  async stop(): Promise<void> {
    this.stopped.abort();
    if (this.timer) clearTimeout(this.timer);
    await this.working;
  }

  private plan(ms: number): void {
    this.timer = setTimeout(() => {
      this.working = keepHouse(this.stopped.signal)
        .catch((error) => log.error({ err: error }, 'housekeeping is left until the next hour'))
        .then(() => {
          if (!this.stopped.signal.aborted) this.plan(EVERY_MS);
        });
    }, ms);
    this.timer.unref();
  }
}

/** Does it once. The backup comes first, as the rest deletes; where it fails the pages say so, and the rest is done all the same. */
export async function keepHouse(signal?: AbortSignal): Promise<void> {
  await backUpWhenDue(signal);
  await emptyOldBin();
  await ageSamples(await labSettings(), signal);
}
