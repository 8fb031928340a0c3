import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { mkdir, open, rename, rm } from 'node:fs/promises';
import path from 'node:path';
import { Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import pg from 'pg';
import yazl from 'yazl';
import { startProgram } from '#app/database/programs';
import { Refusal } from '#app/refusal';
import { ABOUT, type BackupAbout, DUMP } from './backupFile';
import { storeContents } from './storeContents';

/** Whoever makes a backup of a store holds this lock of it: two at a time would only take twice as long. */
const BACKUP_LOCK = 7_230_451;

/** What is packed already (samples, photographs) gets no smaller; the rest does at the lowest level. */
const PACKING = '--compress=1';

interface BackupOptions {
  signal?: AbortSignal;
  /** told how many bytes are written so far */
  onBytes?: (bytes: number) => void;
}

/**
 * Writes a backup of the whole store while it is used: everything that was stored when it began, and nothing that came later. The file bears its
 * name only when it is whole and on the disk.
 * @throws Refusal while another backup of the store is being made; Error in words where pg_dump or the disk refuses
 */
export async function makeBackup(databaseUrl: string, file: string, { signal, onBytes }: BackupOptions = {}): Promise<BackupAbout> {
  await mkdir(path.dirname(file), { recursive: true, mode: 0o700 }).catch((error) => {
    throw inWords(error, path.dirname(file));
  });
  const client = new pg.Client({ connectionString: databaseUrl });
  client.on('error', () => {});
  await client.connect();
  const part = `${file}.part`;
  let isMine = false;
  try {
    const { rows: got } = await client.query<{ mine: boolean }>('select pg_try_advisory_lock($1) as mine', [BACKUP_LOCK]);
    if (!got[0].mine) throw new Refusal('Another backup of this store is being made; wait until it is there.', 409);
    isMine = true;
    // what is counted and what is dumped is the same moment
    await client.query('begin isolation level repeatable read read only');
    const { rows } = await client.query<{ snapshot: string; server: number; at: Date }>(
      `select pg_export_snapshot() as snapshot, current_setting('server_version_num')::int / 10000 as server, now() as at`,
    );
    const [{ snapshot, server, at }] = rows;
    const contents = await storeContents(client);
    const { rows: migrations } = await client.query<{ name: string }>('select name from migrations order by id');
    signal?.throwIfAborted();
    const dump = await writeParts(part, { databaseUrl, snapshot, server, signal, onBytes }, (dumped) => ({
      ...{ format: 'warm-gauge-backup', version: 1, made_at: at.toISOString() },
      ...{ migrations: migrations.map((m) => m.name), server, contents, dump: dumped },
    }));
    // who cancels at the last moment is left with nothing too
    signal?.throwIfAborted();
    await rename(part, file);
    return dump;
  } catch (error) {
    // the part of another of the same second is his
    if (isMine) await rm(part, { force: true });
    if (signal?.aborted) throw new Refusal('The backup was cancelled; no file is left of it.', 409);
    throw inWords(error, path.dirname(file));
  } finally {
    await client.end().catch(() => {});
  }
}

/** What the disk says, as a person reads it; anything else as it is. */
function inWords(error: unknown, folder: string): unknown {
  switch ((error as NodeJS.ErrnoException).code) {
    case 'ENOSPC':
      return new Error(`the disk of ${folder} is full; no file is left of this backup`);
    case 'EACCES':
    case 'EPERM':
    case 'EROFS':
      return new Error(`nothing may be written into ${folder}`);
    case 'EEXIST':
    case 'ENOTDIR':
      return new Error(`${folder} is no folder`);
    default:
      return error;
  }
}

interface DumpOptions extends BackupOptions {
  databaseUrl: string;
  /** of the store as it is dumped, exported by another connection */
  snapshot: string;
  server: number;
}

/** Writes the dump as it comes, then what is said about it, and waits until the disk has both. */
async function writeParts(
  part: string,
  { databaseUrl, snapshot, server, signal, onBytes }: DumpOptions,
  aboutOf: (dump: BackupAbout['dump']) => BackupAbout,
): Promise<BackupAbout> {
  const { child, told } = startProgram(
    'pg_dump',
    ['--format=custom', PACKING, '--no-owner', '--no-privileges', '--no-password', `--snapshot=${snapshot}`],
    { url: databaseUrl, server },
  );
  const stop = new AbortController();
  try {
    const hash = createHash('sha256');
    let bytes = 0;
    let about: BackupAbout | null = null;
    const zip = new yazl.ZipFile();
    const counted = new Transform({
      transform(chunk: Buffer, _, done) {
        hash.update(chunk);
        bytes += chunk.length;
        onBytes?.(bytes);
        done(null, chunk);
      },
      // a dump that broke off is no part of a backup
      flush(done) {
        void told.then((why) => {
          if (why !== null) return stop.abort(new Error(why));
          about = aboutOf({ bytes, sha256: hash.digest('hex') });
          zip.addBuffer(Buffer.from(`${JSON.stringify(about, null, 2)}\n`), ABOUT);
          zip.end();
          done();
        });
      },
    });
    child.stdout.pipe(counted);
    zip.addReadStream(counted, DUMP, { compress: false, forceZip64Format: true });
    const ended = AbortSignal.any(signal ? [signal, stop.signal] : [stop.signal]);
    await pipeline(zip.outputStream, createWriteStream(part, { mode: 0o600 }), { signal: ended }).catch((error) => {
      throw stop.signal.aborted ? stop.signal.reason : error;
    });
    const written = await open(part);
    await written.sync();
    await written.close();
    return about as unknown as BackupAbout;
  } finally {
    child.kill();
  }
}
