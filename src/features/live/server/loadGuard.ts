import { spawn } from 'node:child_process';
import { existsSync, mkdirSync } from 'node:fs';
import path from 'node:path';
import { log } from '#app/log';
import {
  beganAt,
  type CutRecord,
  cutFile,
  type OffCommand,
  readJsonFile,
  removeFile,
  type WatchedLoad,
  type WatchFile,
  watchFolder,
  writeWhole,
} from './loadWatchFile';

const BEAT_MS = 1000;
const PROGRAM = path.resolve('build/load-watch.mjs');

/**
 * Says outside this process which loads are on, so that the load watch can switch them off when nobody watches any more. A load is named
 * before it is switched on, and until it is seen to be off.
 */
class LoadGuard {
  private readonly folder = watchFolder();
  private readonly file = path.join(this.folder, `app-${process.pid}.json`);
  private readonly loads = new Map<string, WatchedLoad>();
  private timer: NodeJS.Timeout | null = null;

  arm(run: string, rig: string, off: OffCommand[]): void {
    if (off.length === 0 || this.loads.has(run)) return;
    this.loads.set(run, { run, rig, off, beat: Date.now() });
    this.write();
    this.timer ??= setInterval(() => this.write(), BEAT_MS);
    if (this.loads.size === 1) this.startWatch();
  }

  /** The run of a load was followed just now. */
  beat(run: string): void {
    const load = this.loads.get(run);
    if (load) load.beat = Date.now();
  }

  disarm(run: string): void {
    if (!this.loads.delete(run)) return;
    this.write();
    if (this.loads.size > 0 || !this.timer) return;
    clearInterval(this.timer);
    this.timer = null;
  }

  isArmed(run: string): boolean {
    return this.loads.has(run);
  }

  /** Why the load of a run was switched off without us; null where it was not. */
  cut(run: string): string | null {
    return readJsonFile<CutRecord>(cutFile(this.folder, run))?.why ?? null;
  }

  /** Leaves word that a load was switched off, for whoever follows its run next. */
  leaveWord(run: string, why: string): void {
    mkdirSync(this.folder, { recursive: true });
    writeWhole(cutFile(this.folder, run), { run, at: Date.now(), why } satisfies CutRecord);
  }

  /** The record of a cut was taken into the run. */
  noteCut(run: string): void {
    removeFile(cutFile(this.folder, run));
  }

  private write(): void {
    if (this.loads.size === 0) {
      removeFile(this.file);
      return;
    }
    const launcher = Number(process.env.WARM_GAUGE_LAUNCHER ?? 0);
    const said: WatchFile = {
      app: { pid: process.pid, began: beganAt(process.pid) },
      launcher: launcher > 0 ? { pid: launcher, began: beganAt(launcher) || 'gone' } : null,
      loads: [...this.loads.values()],
    };
    try {
      mkdirSync(this.folder, { recursive: true });
      writeWhole(this.file, said);
    } catch (error) {
      log.error({ err: error }, 'the load watch cannot be told of a load');
    }
  }

  private startWatch(): void {
    if (!existsSync(PROGRAM)) {
      log.warn('the load watch is not built: nothing switches a load off when the application ends');
      return;
    }
    // a session of its own, so that what ends the application does not end it
    spawn(process.execPath, [PROGRAM, this.file], { detached: true, stdio: ['ignore', 'ignore', 'inherit'] }).unref();
  }
}

/** The loads of this process. */
export const loadGuard = new LoadGuard();
