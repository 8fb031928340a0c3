import { createHash } from 'node:crypto';
import { readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import path from 'node:path';

/** How a load is switched off, without the application. */
export interface OffCommand {
  host: string;
  port: number;
  command: string;
}

/** A load that is on, or may be, and when it was last watched. */
export interface WatchedLoad {
  /** key of its run, see `runKey` */
  run: string;
  rig: string;
  off: OffCommand[];
  /** ms since 1970 at which its run was last followed */
  beat: number;
}

/** A process by its id and when it began, so that an id that is given again is not taken for it. */
interface ProcessMark {
  pid: number;
  began: string;
}

/** What one application process has under load. */
export interface WatchFile {
  app: ProcessMark;
  launcher: ProcessMark | null;
  loads: WatchedLoad[];
}

/** A load that was switched off because nobody watched it. */
export interface CutRecord {
  run: string;
  at: number;
  why: string;
}

/** A load whose run was not followed for so long is watched by nobody, ms. */
export const STALE_MS = 20_000;

/** Folder in which the applications of one store say what they have under load. */
export function watchFolder(): string {
  const own = process.env.WARM_GAUGE_WATCH;
  if (own) return own;
  const store = createHash('sha256')
    .update(process.env.DATABASE_URL ?? '')
    .digest('hex')
    .slice(0, 12);
  return path.resolve(process.env.WARM_GAUGE_DATA ?? '.data', 'load-watch', store);
}

/** When a process began, by the system's own count; empty where it has ended or the system does not tell. */
export function beganAt(pid: number): string {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
    return fields[0] === 'Z' || fields[0] === 'X' ? '' : fields[19];
  } catch {
    return '';
  }
}

/** True while the marked process runs; another one that took its number does not count. */
export function isAlive({ pid, began }: ProcessMark): boolean {
  const now = beganAt(pid);
  if (now !== '') return began === '' || now === began;
  if (began !== '') return false;
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
}

/** Writes a file so that a reader finds the old one or the new one whole. */
export function writeWhole(file: string, value: unknown): void {
  const half = `${file}.${process.pid}.part`;
  writeFileSync(half, JSON.stringify(value));
  renameSync(half, file);
}

/** The file as JSON; null where it is not there or cut short. */
export function readJsonFile<T>(file: string): T | null {
  try {
    return JSON.parse(readFileSync(file, 'utf8')) as T;
  } catch {
    return null;
  }
}

/** The files of all applications in a folder that are alive and follow their runs, but for one. */
export function otherApps(folder: string, except: string): WatchFile[] {
  let names: string[] = [];
  try {
    names = readdirSync(folder);
  } catch {
    return [];
  }
  return names
    .filter((n) => /^app-\d+\.json$/.test(n) && path.join(folder, n) !== except)
    .flatMap((n) => readJsonFile<WatchFile>(path.join(folder, n)) ?? [])
    .filter((f) => isAlive(f.app));
}

/** Names a live run in files beside the store: its number alone comes again in a store that was begun anew. */
export const runKey = ({ id, started_at }: { id: number; started_at: Date }) => `${id}-${started_at.getTime().toString(36)}`;

/** Where the load watch notes that it cut a run’s load. */
export const cutFile = (folder: string, run: string) => path.join(folder, `cut-${run}.json`);

/** Removes a file; nothing where it is not there. */
export function removeFile(file: string): void {
  rmSync(file, { force: true });
}
