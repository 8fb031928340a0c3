import { createHash } from 'node:crypto';
import type { Readable } from 'node:stream';
import { text } from 'node:stream/consumers';
import { pipeline } from 'node:stream/promises';
import yauzl from 'yauzl';
import { isRecord } from '../http';
import type { StoreContents } from './storeContents';

/** A backup is a ZIP file of two parts: what is said about it, and the store as PostgreSQL's pg_dump wrote it in its custom format. */
export const ABOUT = 'about.json';
export const DUMP = 'store.dump';
const MOST_ABOUT_BYTES = 1_000_000;
const MOST_PARTS = 10;

/** What a backup says of itself. */
export interface BackupAbout {
  format: 'warm-gauge-backup';
  version: 1;
  /** when it was begun: it holds the store as it was then */
  made_at: string;
  /** migrations that the store had, in their order */
  migrations: string[];
  /** version of the store's server, such as 15 */
  server: number;
  contents: StoreContents;
  dump: { bytes: number; sha256: string };
}

/** A backup that was opened. */
export interface Backup {
  about: BackupAbout;
  /** the dump from its beginning, however often it is asked for */
  dump: () => Promise<Readable>;
  close: () => void;
}

/**
 * Opens a backup and reads what it says of itself; the dump is not looked at yet.
 * @throws Error with a sentence where the file is none, or was cut off
 */
export async function openBackup(file: string): Promise<Backup> {
  const none = (why: string) => new Error(`${file} is not a backup of Warm Gauge: ${why}. Nothing was changed.`);
  const zip = await yauzl.openPromise(file, { lazyEntries: true, autoClose: false }).catch((error: NodeJS.ErrnoException) => {
    throw error.code === 'ENOENT' ? new Error(`There is no file ${file}.`) : none(error.message);
  });
  try {
    const parts = new Map<string, yauzl.Entry>();
    for await (const entry of zip.eachEntry()) {
      if (parts.size === MOST_PARTS) throw new Error('it has too many parts');
      parts.set(entry.fileName, entry);
    }
    const [aboutPart, dumpPart] = [parts.get(ABOUT), parts.get(DUMP)];
    if (!aboutPart || !dumpPart) throw new Error(`it holds no ${aboutPart ? DUMP : ABOUT}`);
    if (aboutPart.uncompressedSize > MOST_ABOUT_BYTES) throw new Error(`its ${ABOUT} is larger than 1 MB`);
    const about = readAbout(await text(await zip.openReadStreamPromise(aboutPart)));
    if (dumpPart.uncompressedSize !== about.dump.bytes)
      throw new Error(`its ${DUMP} has ${dumpPart.uncompressedSize} bytes, and should have ${about.dump.bytes}`);
    return { about, dump: () => zip.openReadStreamPromise(dumpPart), close: () => zip.close() };
  } catch (error) {
    zip.close();
    throw none((error as Error).message);
  }
}

/** What a backup says of itself, as far as it is what this program writes. */
function readAbout(json: string): BackupAbout {
  let about: Partial<BackupAbout> | null = null;
  try {
    about = JSON.parse(json);
  } catch {
    // told below
  }
  if (about?.format !== 'warm-gauge-backup') throw new Error(`its ${ABOUT} is not that of a backup`);
  if (about.version !== 1) throw new Error(`a newer version of Warm Gauge wrote it (format ${about.version}); restore it with that one`);
  const { migrations, contents, dump, server, made_at } = about;
  const isWhole =
    Array.isArray(migrations) &&
    migrations.every((name) => typeof name === 'string') &&
    isRecord(contents?.rows) &&
    Object.values(contents.rows).every(Number.isInteger) &&
    Number.isInteger(dump?.bytes) &&
    typeof dump?.sha256 === 'string' &&
    Number.isInteger(server) &&
    !Number.isNaN(Date.parse(String(made_at)));
  if (!isWhole) throw new Error(`its ${ABOUT} does not say all that a backup says`);
  return about as BackupAbout;
}

/**
 * Reads the whole dump against its checksum.
 * @throws Error where it is not what was written
 */
export async function checkDump(backup: Backup): Promise<void> {
  const hash = createHash('sha256');
  try {
    await pipeline(await backup.dump(), hash);
  } catch (error) {
    throw new Error(`The backup is damaged (${(error as Error).message}). Nothing was changed; take another one.`);
  }
  if (hash.digest('hex') !== backup.about.dump.sha256)
    throw new Error('The backup is damaged: its store.dump does not have its checksum. Nothing was changed; take another one.');
}
