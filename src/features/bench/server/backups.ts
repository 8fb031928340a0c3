import { createReadStream } from 'node:fs';
import { stat, statfs } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import { dailyName, dailyTime, dropBackups, type KeptBackup, listBackups } from '#app/backup/keptBackups';
import { makeBackup } from '#app/backup/makeBackup';
import { database } from '#app/database/pool';
import { storeUrl } from '#app/database/servers';
import { log } from '#app/log';
import { Refusal } from '#app/refusal';
import { labSettings } from '#app/settings';
import { bytesWords } from '#core/text/bytesWords';
import { backupWarning } from '#features/bench/model/backupWords';
import { storeMadeAt } from '#features/bench/store/storedBytes';
import { countStudies } from '#features/study/store/studies';

/** A daily backup is due a little before a day is over, so that the hour at which it is made does not wander. */
const DUE_MS = 23.5 * 3_600_000;
/** Room that a backup may take, in parts of the newest. */
const ROOM_FACTOR = 1.2;

interface Work {
  running: { bytes: number; stop: AbortController } | null;
  problem: string | null;
}

/** What this process is at. The pages and what keeps house are bundled apart, and share nothing but the process. */
const WORK = Symbol.for('warm-gauge.backups');
const shared = globalThis as { [WORK]?: Work };
const work = (): Work => (shared[WORK] ??= { running: null, problem: null });

/** Where backups lie; null where none are made by themselves, as the store is somebody else's. */
const folder = (): string | null => process.env.WARM_GAUGE_BACKUPS || null;

/** The backups as their part of the settings shows them. */
export interface BackupsView {
  folder: string | null;
  /** whether one is made every day */
  daily: boolean;
  kept: { name: string; at: string; bytes: number }[];
  /** bytes of the one that is being made */
  running: number | null;
  problem: string | null;
  warning: string | null;
}

/** What there is, what is being made, and what is wrong. */
export async function backupsView(): Promise<BackupsView> {
  const place = folder();
  const [kept, settings] = await Promise.all([place ? listBackups(place) : [], labSettings()]);
  const { running, problem } = work();
  return {
    ...{ folder: place, daily: place !== null && settings.backups, running: running?.bytes ?? null, problem },
    kept: kept.map(({ name, at, bytes }) => ({ name, at: at.toISOString(), bytes })),
    warning: place !== null && settings.backups ? await warningOf(kept) : null,
  };
}

/** The warning of the bench; null where backups are off, or all is well. */
export async function missingBackup(): Promise<string | null> {
  const place = folder();
  if (!place || !(await labSettings()).backups) return null;
  return warningOf(await listBackups(place));
}

async function warningOf(kept: KeptBackup[]): Promise<string | null> {
  // a store that holds nothing has nothing to lose
  if ((await countStudies(database())) === 0) return null;
  return backupWarning(
    {
      newest: kept.length > 0 ? kept[0].at.getTime() : null,
      store_made: (await storeMadeAt(database())).getTime(),
      problem: work().problem,
      running_ms: 1000 * process.uptime(),
    },
    Date.now(),
  );
}

/** Makes a backup where the last is a day old. */
export async function backUpWhenDue(signal?: AbortSignal): Promise<void> {
  const place = folder();
  if (!place || !(await labSettings()).backups || (await countStudies(database())) === 0) return;
  const [newest] = await listBackups(place);
  if (newest && Date.now() - newest.at.getTime() < DUE_MS) return;
  await backUp(place, signal);
}

/** Begins a backup now; it goes on while the page is used. */
export async function startBackup(): Promise<BackupsView> {
  const place = folder();
  if (!place)
    throw new Refusal(
      'The store is kept elsewhere (DATABASE_URL), and no folder for its backups is named. Name one with WARM_GAUGE_BACKUPS and start again.',
      409,
    );
  void backUp(place);
  return backupsView();
}

/** Stops the backup that is being made; no file is left of it. */
export function cancelBackup(): Promise<BackupsView> {
  work().running?.stop.abort();
  return backupsView();
}

/** Makes one where none is being made; what goes wrong is kept for the pages. */
async function backUp(place: string, signal?: AbortSignal): Promise<void> {
  const now = work();
  if (now.running) return;
  const running = { bytes: 0, stop: new AbortController() };
  const end = () => running.stop.abort();
  signal?.addEventListener('abort', end);
  now.running = running;
  try {
    await refuseTight(place);
    const onBytes = (bytes: number) => {
      running.bytes = bytes;
    };
    const at = new Date();
    await makeBackup(storeUrl(), path.join(place, dailyName(at)), { signal: running.stop.signal, onBytes });
    now.problem = null;
    const { backup_days, backup_weeks, backup_months } = await labSettings();
    await dropBackups(place, { days: backup_days, weeks: backup_weeks, months: backup_months }, at);
  } catch (error) {
    // one that was cancelled is no failure
    if (running.stop.signal.aborted) return;
    now.problem = error instanceof Error ? error.message.replace(/\.$/, '') : String(error);
    log.error({ err: error }, 'the backup was not made');
  } finally {
    signal?.removeEventListener('abort', end);
    now.running = null;
  }
}

/** Refuses where the folder has less room than the newest backup took: a disk that is filled by backups stops the bench. */
async function refuseTight(place: string): Promise<void> {
  const [newest] = await listBackups(place);
  const disk = newest && (await statfs(place).catch(() => null));
  if (disk && disk.bavail * disk.bsize < ROOM_FACTOR * newest.bytes)
    throw new Error(`${place} has ${bytesWords(disk.bavail * disk.bsize)} left, and a backup takes about ${bytesWords(newest.bytes)}`);
}

/** A backup to take along. */
export async function downloadBackup(name: string): Promise<Response> {
  const place = folder();
  const file = place && dailyTime(name) ? path.join(place, name) : null;
  const found = file && (await stat(file).catch(() => null));
  if (!file || !found) throw new Refusal(`There is no backup ${name}.`, 404);
  return new Response(Readable.toWeb(createReadStream(file)) as ReadableStream, {
    headers: {
      ...{ 'content-type': 'application/zip', 'content-length': String(found.size), 'cache-control': 'no-store' },
      'content-disposition': `attachment; filename="${name}"`,
    },
  });
}
