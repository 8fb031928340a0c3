import { Worker } from 'node:worker_threads';
import { type BurnJob, DUTY_STEPS, type LoadMix, SHARED } from './types';

const BEAT_MS = 200;
/** How fast the share of the processors' time is brought to what was asked, per second. */
const TRIM = 0.5;
/** A worker that did not hear the stop is ended, ms. */
const ENDS_MS = 400;

/** The load: worker threads that compute for a share of their time. */
export class Heater {
  private readonly said = new Int32Array(new SharedArrayBuffer(4 * SHARED.length));
  private workers: Worker[] = [];
  private timer: NodeJS.Timeout | null = null;
  private asked = 0;
  private trim = 0;
  private used = process.cpuUsage();
  private usedAt = performance.now();
  /** the first second is not counted: workers are still starting */
  private counted = false;

  /**
   * @param count threads that heat
   * @param entry file that a worker runs, as `burn.ts`
   * @param trims brings the share of time to what is asked; not where a measured power says what is asked
   */
  constructor(
    private readonly count: number,
    private readonly mix: LoadMix,
    private readonly entry: URL,
    private readonly trims: boolean,
  ) {}

  get isOn(): boolean {
    return this.workers.length > 0;
  }

  /** Heats with this share of its most from now on. */
  set(duty: number): void {
    this.asked = Math.min(1, Math.max(0, duty));
    if (this.asked > 0 && !this.isOn) this.start();
    Atomics.store(this.said, SHARED.duty, Math.round(DUTY_STEPS * Math.min(1, Math.max(0, this.asked + this.trim))));
  }

  /** Ends the load; when it comes back no worker is left. */
  async stop(): Promise<void> {
    if (this.timer) clearInterval(this.timer);
    this.timer = null;
    this.asked = 0;
    this.trim = 0;
    Atomics.store(this.said, SHARED.stop, 1);
    Atomics.notify(this.said, SHARED.stop);
    const workers = this.workers;
    this.workers = [];
    await Promise.all(
      workers.map(async (worker) => {
        const gone = new Promise((done) => worker.once('exit', done));
        const late = setTimeout(() => void worker.terminate(), ENDS_MS);
        await gone;
        clearTimeout(late);
      }),
    );
  }

  private start(): void {
    Atomics.store(this.said, SHARED.stop, 0);
    this.workers = Array.from({ length: this.count }, (_, index) => {
      const worker = new Worker(this.entry, {
        workerData: { shared: this.said.buffer as SharedArrayBuffer, mix: this.mix, index } satisfies BurnJob,
      });
      worker.on('error', (error) => process.stderr.write(`A worker of the load failed: ${error.message}\n`));
      // one that ended by itself is told of, and is not waited for
      worker.once('exit', () => {
        this.workers = this.workers.filter((w) => w !== worker);
      });
      return worker;
    });
    this.used = process.cpuUsage();
    this.usedAt = performance.now();
    this.counted = false;
    if (this.timer) clearInterval(this.timer);
    this.timer = setInterval(() => this.beat(), BEAT_MS);
  }

  /** Says that somebody watches, and brings the share of time to what was asked. */
  private beat(): void {
    Atomics.add(this.said, SHARED.beat, 1);
    const passed_ms = performance.now() - this.usedAt;
    if (!this.trims || passed_ms < 1000 || this.asked === 0) return;
    const { user, system } = process.cpuUsage(this.used);
    const share = (user + system) / 1000 / passed_ms / this.count;
    this.used = process.cpuUsage();
    this.usedAt = performance.now();
    if (this.counted) this.trim = Math.min(0.2, Math.max(-0.2, this.trim + (TRIM * passed_ms * (this.asked - share)) / 1000));
    this.counted = true;
    this.set(this.asked);
  }
}
