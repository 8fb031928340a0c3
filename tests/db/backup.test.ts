import { randomUUID } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import yauzl from 'yauzl';
import yazl from 'yazl';
import { ABOUT, type BackupAbout, checkDump, DUMP, openBackup } from '#app/backup/backupFile';
import { makeBackup } from '#app/backup/makeBackup';
import { lookAtStore, restoreBackup } from '#app/backup/restoreBackup';
import { contentsWords, isEmpty, storeContents } from '#app/backup/storeContents';
import { closeDatabase, database } from '#app/database/pool';
import { saveSettings } from '#app/settings';
import { backUpWhenDue, backupsView, cancelBackup, downloadBackup, missingBackup, startBackup } from '#features/bench/server/backups';
import { checkStore } from '#features/bench/server/checkStore';
import { takePush } from '#features/live/server/ingest';
import { startLive } from '#features/live/server/startLive';
import { listBatches } from '#features/live/store/live';
import { ImportPlan } from '#features/run/model/importPlan';
import { importRun } from '#features/run/server/importRun';
import { check } from '#rules/validation';
import { emptyDatabase, onFreshDatabase } from '../database.ts';
import { stockLive, until } from '../liveBench.ts';

const { url } = onFreshDatabase();
const folder = mkdtempSync(path.join(tmpdir(), 'backup-'));
const file = path.join(folder, 'lab.zip');
const logs = new URL('../reference/logs/', import.meta.url);
afterAll(() => rmSync(folder, { recursive: true }));

const importLog = (title: string) =>
  importRun(
    check(ImportPlan, {
      ...{ import_id: randomUUID(), reading: {} },
      place: { study_title: title, specimen_name: 'Øre & Söhne <b>', specimen_kind: 'paste', rig_name: `Rig of ${title}`, rig_limit_c: 95 },
    }),
    [
      {
        name: 'a.csv',
        bytes: new Uint8Array(Buffer.concat([Buffer.from(`# ${title}\n`), readFileSync(new URL('ambient_drift.csv', logs))])),
      },
    ],
  );

/** A live run that nobody follows, and a device that pushes to it without a pause. */
async function pushing() {
  const ports = { thermometer: 1, power: 2, tachometer: 3, sound: 4 };
  const stock = await stockLive({ ports } as never, { speed: 1, push: 'Clock: clock MHz' });
  const { id } = await startLive({ mount_id: stock.mount, cycles: 1 });
  const acknowledged: number[] = [];
  let stopped = false;
  const began = Date.now() / 1000;
  const work = (async () => {
    for (let seq = 1; !stopped; seq += 10) {
      const lines = Array.from({ length: 10 }, (_, i) =>
        JSON.stringify({ source: 'card', seq: seq + i, t: began + (seq + i) / 100, values: { Clock: 2000 + ((seq + i) % 100) } }),
      );
      acknowledged.push(...(await takePush(id, async () => lines.join('\n'))).stored);
    }
  })();
  return {
    id,
    acknowledged,
    stop: () => {
      stopped = true;
      return work;
    },
  };
}

/** Everything of a store that can be counted. */
async function contentsOf(database_url: string) {
  const client = new pg.Client({ connectionString: database_url });
  await client.connect();
  const contents = await storeContents(client);
  await client.end();
  return contents;
}

/** The backup with one of its parts changed, and all that tells of it as it was. */
async function changed(name: string, change: (parts: { about: BackupAbout; dump: Buffer }) => void): Promise<string> {
  const zip = await yauzl.openPromise(file, { lazyEntries: true, autoClose: false });
  const read = new Map<string, Buffer>();
  for await (const entry of zip.eachEntry()) {
    const pieces: Buffer[] = [];
    for await (const piece of await zip.openReadStreamPromise(entry)) pieces.push(piece);
    read.set(entry.fileName, Buffer.concat(pieces));
  }
  zip.close();
  const parts = { about: JSON.parse(String(read.get(ABOUT))), dump: read.get(DUMP) as Buffer };
  change(parts);
  const out = new yazl.ZipFile();
  out.addBuffer(parts.dump, DUMP, { compress: false });
  out.addBuffer(Buffer.from(JSON.stringify(parts.about)), ABOUT);
  out.end();
  const made = path.join(folder, name);
  const pieces: Buffer[] = [];
  for await (const piece of out.outputStream) pieces.push(piece as Buffer);
  writeFileSync(made, Buffer.concat(pieces));
  return made;
}

describe('a backup', () => {
  let acknowledged: number[];
  let live: number;
  beforeAll(async () => {
    await importLog('Before');
    const card = await pushing();
    live = card.id;
    await until(async () => card.acknowledged.length > 200, 'pushes');
    const importing = importLog('Meanwhile');
    acknowledged = [...card.acknowledged];
    await makeBackup(url(), file);
    await Promise.all([importing, card.stop()]);
    expect(card.acknowledged.length).toBeGreaterThan(acknowledged.length);
  });

  it('made while a live run and an import go on holds all that was acknowledged before it began, and agrees with itself', async () => {
    const backup = await openBackup(file);
    await checkDump(backup);
    const other = await emptyDatabase();
    const now = await lookAtStore(other.url);
    expect([isEmpty(now.contents), contentsWords(now.contents), now.others]).toEqual([true, 'nothing yet', 0]);
    await restoreBackup(other.url, backup, now.server);
    expect(await contentsOf(other.url)).toEqual(backup.about.contents);
    expect(contentsWords(backup.about.contents)).toMatch(/^2 studies|^3 studies/);
    await closeDatabase();
    process.env.DATABASE_URL = other.url;
    const stored = (await listBatches(database(), live, -1e9)).flatMap((b) => Array.from(b.t, (_, i) => b.seq_from + i));
    expect(acknowledged.length).toBeGreaterThan(200);
    expect(acknowledged.filter((seq) => !stored.includes(seq))).toEqual([]);
    const { wrong, looked } = await checkStore({ quick: false, say: () => {} });
    expect(wrong).toEqual([]);
    expect(looked.find((l) => l.name === 'log files')?.count).toBeGreaterThan(0);
    await closeDatabase();
    process.env.DATABASE_URL = url();
    backup.close();
    await other.drop();
  });

  it('is read by nobody else, and stands at its name only when it is whole', async () => {
    expect(statSync(file).mode & 0o077).toBe(0);
    const stop = new AbortController();
    stop.abort();
    await expect(makeBackup(url(), path.join(folder, 'cancelled.zip'), { signal: stop.signal })).rejects.toThrow('was cancelled');
    const late = new AbortController();
    const begun = makeBackup(url(), path.join(folder, 'late.zip'), { signal: late.signal, onBytes: () => late.abort() });
    await expect(begun).rejects.toThrow('was cancelled');
    // pg_dump is ended by the server while it is at it; where it was through before anybody looked, it is tried again
    const end = () =>
      database().query(
        `select pg_terminate_backend(pid) from pg_stat_activity where application_name = 'pg_dump' and datname = current_database()`,
      );
    const cut = path.join(folder, 'cut.zip');
    let why: Error | null = null;
    for (let i = 0; why === null && i < 20; i++) {
      rmSync(cut, { force: true });
      let isOver = false;
      const made = makeBackup(url(), cut).then(
        () => null,
        (error: Error) => error,
      );
      void made.then(() => {
        isOver = true;
      });
      while (!isOver) await end();
      why = await made;
    }
    expect(why?.message).toMatch(/terminating connection|connection/);
    await expect(makeBackup(url(), path.join(file, 'x.zip'))).rejects.toThrow(`${file} is no folder`);
    expect(readdirSync(folder)).toEqual(['lab.zip']);
  });

  it('is made by one at a time', async () => {
    const [one, two] = await Promise.allSettled(['one', 'two'].map((name) => makeBackup(url(), path.join(folder, `${name}.zip`))));
    const refused = [one, two].filter((r) => r.status === 'rejected');
    expect(refused.map((r) => (r as PromiseRejectedResult).reason.message)).toEqual([
      expect.stringContaining('Another backup of this store is being made'),
    ]);
    rmSync(path.join(folder, one.status === 'fulfilled' ? 'one.zip' : 'two.zip'));
  });
});

describe('a restore', () => {
  const cases: [string, string, (parts: { about: BackupAbout; dump: Buffer }) => void][] = [
    [
      'a byte of the dump is another',
      'does not have its checksum',
      ({ dump }) => {
        dump[dump.length >> 1] ^= 1;
      },
    ],
    ['it was made by a newer format', 'a newer version of Warm Gauge wrote it', ({ about }) => Object.assign(about, { version: 2 })],
    ['it is something else', 'is not that of a backup', ({ about }) => Object.assign(about, { format: 'other' })],
    ['it does not say what it holds', 'does not say all', ({ about }) => Object.assign(about, { contents: {} })],
    ['the dump is shorter', 'and should have', (parts) => Object.assign(parts, { dump: parts.dump.subarray(0, -10) })],
  ];
  it.each(cases)('is refused where %s', async (_, words, change) => {
    const made = await changed('changed.zip', change);
    const work = (async () => {
      const backup = await openBackup(made);
      await checkDump(backup).finally(backup.close);
    })();
    await expect(work).rejects.toThrow(words);
    await expect(work).rejects.toThrow('Nothing was changed');
  });

  it('is refused where the file is none, is cut off, or holds no dump', async () => {
    await expect(openBackup(path.join(folder, 'nothing.zip'))).rejects.toThrow(/^There is no file /);
    const half = path.join(folder, 'half.zip');
    writeFileSync(half, readFileSync(file).subarray(0, 5000));
    await expect(openBackup(half)).rejects.toThrow('is not a backup of Warm Gauge');
    writeFileSync(half, 'Time,Die 1\n0,20\n');
    await expect(openBackup(half)).rejects.toThrow('is not a backup of Warm Gauge');
    await expect(openBackup(folder)).rejects.toThrow('is not a backup of Warm Gauge');
  });

  it('replaces all there is or nothing: what does not fit leaves the store as it was', async () => {
    const other = await emptyDatabase();
    const good = await openBackup(file);
    await restoreBackup(other.url, good, good.about.server);
    const client = new pg.Client({ connectionString: other.url });
    await client.connect();
    await client.query(`insert into all_studies (title, question, margin_k) values ('Made here', '', 1)`);
    const before = await contentsOf(other.url);
    const told = [
      // a row fewer than it tells of; a dump that breaks off; one that is none
      await changed('fewer.zip', ({ about }) => {
        about.contents.rows.all_studies += 1;
      }),
      await changed('short.zip', (parts) => {
        parts.dump = parts.dump.subarray(0, parts.dump.length - 2000);
        parts.about.dump.bytes -= 2000;
      }),
      await changed('none.zip', (parts) => {
        parts.dump = Buffer.from('select 1;');
        parts.about.dump.bytes = 9;
      }),
    ];
    const words = ['all_studies has other rows than the backup tells of', 'the store is as it was', 'the store is as it was'];
    for (const [i, name] of told.entries()) {
      const backup = await openBackup(name);
      await expect(restoreBackup(other.url, backup, good.about.server)).rejects.toThrow(words[i]);
      expect(await contentsOf(other.url)).toEqual(before);
      backup.close();
    }
    // somebody who is connected is seen
    expect((await lookAtStore(other.url)).others).toBe(1);
    await client.end();
    // and with the right one what was made here is gone
    await restoreBackup(other.url, good, good.about.server);
    expect(await contentsOf(other.url)).toEqual(good.about.contents);
    good.close();
    await other.drop();
  });
});

describe('daily backups', () => {
  const place = path.join(folder, 'daily');
  const names = () => readdirSync(place).sort();
  beforeAll(() => {
    process.env.WARM_GAUGE_BACKUPS = place;
  });
  afterAll(() => {
    delete process.env.WARM_GAUGE_BACKUPS;
  });

  it('are made once a day, listed, and taken along', async () => {
    await backUpWhenDue();
    await backUpWhenDue();
    const view = await backupsView();
    expect(view).toMatchObject({ folder: place, daily: true, running: null, problem: null, warning: null });
    expect(view.kept.map((b) => b.name)).toEqual(names());
    const answer = await downloadBackup(view.kept[0].name);
    expect(Buffer.from(await answer.arrayBuffer()).equals(readFileSync(path.join(place, view.kept[0].name)))).toBe(true);
    for (const other of ['lab.zip', '../lab.zip', '..%2Flab.zip', 'daily-2026-01-01T00-00-00Z.zip'])
      await expect(downloadBackup(other)).rejects.toThrow('There is no backup');
  });

  it('are made anew when the last is a day old, and told where they cannot', async () => {
    const old = path.join(place, 'daily-2020-01-01T00-00-00Z.zip');
    rmSync(place, { recursive: true });
    await backUpWhenDue();
    writeFileSync(old, '');
    expect(names()).toHaveLength(2);
    rmSync(path.join(place, names()[1]));
    // the folder cannot be written to: it is a file
    rmSync(place, { recursive: true });
    writeFileSync(place, '');
    await backUpWhenDue();
    expect((await backupsView()).problem).toBe(`${place} is no folder`);
    // the bench warns once three days are over, whether there was one before or none
    expect(await missingBackup()).toBeNull();
    await database().query(`update migrations set run_on = run_on - interval '73 hours'`);
    expect(await missingBackup()).toBe(
      `No backup was made since the store was, 3 days ago: ${place} is no folder. See Backups in the settings.`,
    );
    expect((await backupsView()).warning).toBe(await missingBackup());
    rmSync(place);
    await backUpWhenDue();
    expect(await backupsView()).toMatchObject({ problem: null, kept: [{ name: expect.stringMatching(/^daily-/) }] });
    expect(await missingBackup()).toBeNull();
  });

  it('are off where the lab says so, or names no folder; by hand one is made all the same, and cancelled', async () => {
    rmSync(place, { recursive: true });
    await saveSettings({ backups: false });
    await backUpWhenDue();
    expect(await backupsView()).toMatchObject({ daily: false, kept: [], warning: null });
    await startBackup();
    await until(async () => (await backupsView()).kept.length === 1 && (await backupsView()).running === null, 'the backup');
    await startBackup();
    await cancelBackup();
    await until(async () => (await backupsView()).running === null, 'its end');
    expect((await backupsView()).problem).toBeNull();
    delete process.env.WARM_GAUGE_BACKUPS;
    expect(await backupsView()).toMatchObject({ folder: null, daily: false, kept: [] });
    await expect(startBackup()).rejects.toThrow('Name one with WARM_GAUGE_BACKUPS');
    process.env.WARM_GAUGE_BACKUPS = place;
  });
});
