import { execFile } from 'node:child_process';

const AGAIN_MS = 2000;

/** The store that the launcher started for this application: its commands to start and stop it, where it is our own. */
export class OwnStore {
  private triedAt = 0;
  private told = false;
  private running: Promise<void> | null = null;

  /** Starts the store anew where it has ended; a store that somebody else runs is waited for. */
  async bringBack(): Promise<void> {
    if (!this.told) process.stderr.write(`The store does not answer.${process.env.WARM_GAUGE_START_STORE ? ' Starting it again.' : ''}\n`);
    this.told = true;
    const command = process.env.WARM_GAUGE_START_STORE;
    if (!command || this.running || Date.now() - this.triedAt < AGAIN_MS) return;
    this.triedAt = Date.now();
    this.running = run(command).then((ok) => {
      this.running = null;
      if (ok) this.told = false;
    });
    await this.running;
  }

  /** Stops the store, where the launcher that should is gone. */
  static async stop(): Promise<void> {
    const command = process.env.WARM_GAUGE_STOP_STORE;
    if (command) await run(command);
  }
}

const run = (command: string): Promise<boolean> =>
  new Promise((done) => {
    execFile('/bin/sh', ['-c', command], { timeout: 40_000 }, (error) => done(error === null));
  });
