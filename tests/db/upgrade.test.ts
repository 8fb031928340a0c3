import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import pg from 'pg';
import { afterAll, describe, expect, it } from 'vitest';
import { backUpBefore } from '#app/backup/backUpBefore';
import { checkDump, openBackup } from '#app/backup/backupFile';
import { restoreBackup } from '#app/backup/restoreBackup';
import { migrate } from '#app/database/migrate';
import { closeDatabase, database } from '#app/database/pool';
import { closeWorkers } from '#app/jobs';
import { mountGrid } from '#features/mount/server/mountGrid';
import { listNotices } from '#features/study/store/notices';
import { emptyDatabase } from '../database.ts';
import { resultsOf } from '../resultsOf.ts';

/** The demo as the version before kept it, with a mount that was lifted and run again; traces of all but five runs are left out. */
const BEFORE = 'tests/reference/store-0016.dump';
const backups = mkdtempSync(path.join(tmpdir(), 'backups-'));

afterAll(async () => {
  await closeWorkers();
  await closeDatabase();
  rmSync(backups, { recursive: true });
});

/** A database with a dump in it. */
async function restored(file: string): Promise<{ url: string; drop: () => Promise<void> }> {
  const made = await emptyDatabase();
  const { status, stderr } = spawnSync('pg_restore', ['--no-owner', `--dbname=${made.url}`, file], { encoding: 'utf8' });
  expect(stderr).toBe('');
  expect(status).toBe(0);
  return made;
}

async function query<T extends object>(url: string, sql: string): Promise<T[]> {
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  const { rows } = await client.query<T>(sql);
  await client.end();
  return rows;
}

/** Rows of every table; a table that also holds what lies in the bin by the name of what is there. */
async function counts(url: string): Promise<Record<string, number>> {
  const tables = await query<{ name: string }>(url, `select tablename as name from pg_tables where schemaname = 'public' order by 1`);
  const all = await query<{ name: string; n: number }>(
    url,
    tables.map(({ name }) => `select '${name.replace(/^all_/, '')}' as name, count(*)::int as n from "${name}"`).join(' union all '),
  );
  return Object.fromEntries(all.map((r) => [r.name, r.n]));
}

describe('a store of the version before', () => {
  it('is taken over with nothing lost, kept as it was, and what was lifted is a mount of its own', async () => {
    const { url, drop } = await restored(BEFORE);
    // one that was lifted twice, the second time before any run; one whose log names no zone; one that was never lifted
    await query(
      url,
      `with m as (insert into mounts (specimen_id, rig_id, number) values (9, 2, 7) returning id),
        a as (insert into mount_attempts (mount_id, number, begun_at, ended_at, outcome)
          select id, n, timestamptz '2026-07-01 08:00Z' + n * interval '1 hour', timestamptz '2026-07-01 08:30Z' + n * interval '1 hour', 'ready' from m, generate_series(1, 3) n)
       insert into runs (import_id, mount_id, number, started_at, started_zoned, created_at, reading, options, result, rise_k, valid, r_valid, censored)
       select gen_random_uuid(), m.id, n, timestamptz '2026-07-01 09:40Z' + (n - 1) * interval '2 hours', n = 1, '2026-07-08', '{}', '{}', '{"start_state": null}', 40 + n, true, false, false
       from m, generate_series(1, 2) n`,
    );
    const before = await counts(url);
    expect(before).toMatchObject({ studies: 7, runs: 256 });
    const said: string[] = [];
    const applied = await migrate(url, { before: backUpBefore(url, backups, (s) => said.push(s)) });
    expect(applied[0]).toBe('0017_applications');
    expect(said).toEqual([expect.stringMatching(/as it was it is kept in .*before-0017_applications-.*\.zip$/)]);
    const after = await counts(url);
    expect(after).toMatchObject({
      ...before,
      migrations: before.migrations + applied.length,
      mounts: before.mounts + 2,
      changes: before.changes + 2,
      notices: 2,
    });
    expect(after.bin).toBe(0);
    process.env.DATABASE_URL = url;
    const [{ id: study }] = await query<{ id: number }>(url, `select id::int from studies where title = 'Four fillers for the south hut'`);
    const rows = await query(
      url,
      `select specimen, mount, array(select number || ': ' || round(rise_k::numeric, 1) from runs r where r.mount_id = p.mount_id order by number) as runs,
        (select count(*)::int from mount_attempts a where a.mount_id = p.mount_id) as tries
       from placed_mounts p where study_id = ${study} and (specimen, mount) in (('Bramble 5', 1), ('Bramble 5', 4), ('Loam White', 7), ('Loam White', 8)) order by 1, 2`,
    );
    expect(rows).toEqual([
      { specimen: 'Bramble 5', mount: 1, runs: ['1: 40.8', '2: 40.6'], tries: 1 },
      { specimen: 'Bramble 5', mount: 4, runs: ['1: 39.3', '2: 40.3'], tries: 1 },
      { specimen: 'Loam White', mount: 7, runs: ['1: 41.0'], tries: 1 },
      { specimen: 'Loam White', mount: 8, runs: ['1: 42.0'], tries: 2 },
    ]);
    expect((await listNotices(database(), study)).map((n) => n.message)).toEqual([
      expect.stringMatching(/^Bramble 5, mount 1, was lifted and put on again.*is now mount 4\. Means/),
      expect.stringMatching(/^Loam White, mount 7, was lifted.*is now mount 8\. Means/),
    ]);
    expect((await resultsOf(study)).analysis?.specimens.find((s) => s.specimen === 'Bramble 5')?.mounts).toBe(4);
    for (const { id } of await query<{ id: number }>(url, 'select id::int from studies')) await mountGrid(id);
    // the backup holds what was there before
    const [file] = readdirSync(backups);
    const backup = await openBackup(path.join(backups, file));
    await checkDump(backup);
    const other = await emptyDatabase();
    await restoreBackup(other.url, backup, backup.about.server);
    expect(await counts(other.url)).toEqual(before);
    // and is brought to this version where it is restored
    expect(await migrate(other.url)).toEqual(applied);
    expect(await counts(other.url)).toEqual(after);
    backup.close();
    await other.drop();
    // of a store that is up to date no other is made
    expect(await migrate(url, { before: backUpBefore(url, backups, () => {}) })).toEqual([]);
    expect(readdirSync(backups)).toHaveLength(1);
    await closeWorkers();
    await closeDatabase();
    await drop();
  });

  it('is not changed where no backup can be made', async () => {
    const { url, drop } = await restored(BEFORE);
    const before = await counts(url);
    await expect(migrate(url, { before: backUpBefore(url, path.join(BEFORE, 'backups'), () => {}) })).rejects.toThrow(
      /no backup of it could be made before that \(.*backups is no folder\)\. Nothing was changed\. Make room in/,
    );
    expect(await counts(url)).toEqual(before);
    await drop();
  });
});
