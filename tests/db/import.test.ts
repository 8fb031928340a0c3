import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { buffer } from 'node:stream/consumers';
import { describe, expect, it } from 'vitest';
import { database } from '#app/database/pool';
import { ImportPlan } from '#features/run/model/importPlan';
import { importRun } from '#features/run/server/importRun';
import { listPlaces } from '#features/run/server/places';
import { importForm, readImportForm } from '#features/run/server/readForm';
import { runTrace } from '#features/run/server/runTrace';
import { originalFile } from '#features/run/server/runView';
import { listRuns } from '#features/run/store/runs';
import { loadTrace } from '#features/run/store/traces';
import { deleteStudy, listMounts, listSpecimens } from '#features/study/store/studies';
import { check } from '#rules/validation';
import { onFreshDatabase } from '../database.ts';

const logs = new URL('../reference/logs/', import.meta.url);
const file = (name: string) => ({ name, bytes: new Uint8Array(readFileSync(new URL(name, logs))) });
const plan = (place: object, more: object = {}) => check(ImportPlan, { import_id: randomUUID(), reading: {}, place, ...more });
const newPlace = (study: string, specimen = 'Loam White') => ({
  study_title: study,
  specimen_name: specimen,
  specimen_kind: 'paste',
  rig_name: `Rig of ${study}`,
  rig_limit_c: 95,
});
const count = async (table: string) => Number((await database().query(`select count(*) as n from ${table}`)).rows[0].n);

const post = (boundary: string) => ({
  ...{ method: 'POST', duplex: 'half' },
  headers: { 'content-type': `multipart/form-data; boundary=${boundary}`, 'content-length': '100000' },
});
/** A form as it is sent, with its length told. */
const sent = (form: Response): Request =>
  new Request('http://x/', {
    ...{ method: 'POST', duplex: 'half', body: form.body },
    headers: { 'content-type': form.headers.get('content-type') ?? '', 'content-length': '1000000' },
  } as RequestInit);

onFreshDatabase();

describe('import into the store', () => {
  it('stores run, findings, trace and the file byte for byte', async () => {
    const stored = await importRun(plan(newPlace('Whole')), [file('ambient_drift.csv')]);
    const [run] = await listRuns(database(), stored.study_id);
    expect(run.rise_k).toBeCloseTo(39.244, 1);
    expect(run.valid).toBe(true);
    const findings = await database().query('select code from findings where run_id = $1', [run.id]);
    expect(findings.rows.map((r) => r.code)).toEqual(['ambient_drift']);
    const original = await originalFile(run.id, 0);
    expect((await buffer(original.pieces)).equals(Buffer.from(file('ambient_drift.csv').bytes))).toBe(true);
    const channels = await loadTrace(database(), run.id, 0, Number.POSITIVE_INFINITY);
    expect(channels.map((c) => c.role)).toEqual(['rise', 'sensor', 'sensor', 'sensor', 'ambient', 'power', 'clock', 'fan']);
    const die = channels.find((c) => c.name === 'Die 1');
    expect(die?.values[0]).toBeCloseTo(25.7, 5);
    expect(die?.t).toHaveLength(1470);
  });

  it('keeps every peak of a trace when it is thinned for the screen', async () => {
    const stored = await importRun(plan(newPlace('Peaks')), [file('bad_sensors.csv')]);
    const full = (await loadTrace(database(), stored.run_id, 0, 1e9)).find((c) => c.name === 'Die 2');
    const thin = (await runTrace(stored.run_id, null, null, 60)).lines.find((l) => l.name === 'Die 2');
    const known = thin?.v.filter((v): v is number => v !== null) ?? [];
    expect(known.length).toBeLessThanOrEqual(122);
    expect(Math.max(...known)).toBeCloseTo(Math.max(...(full?.values ?? [])), 3);
    expect(Math.min(...known)).toBeCloseTo(Math.min(...(full?.values ?? [])), 3);
  });

  it('gives the same run again for a repeated import, even when both come at once', async () => {
    const twice = plan(newPlace('Twice'));
    const both = await Promise.all([importRun(twice, [file('cut_line.csv')]), importRun(twice, [file('cut_line.csv')])]);
    const again = await importRun(twice, [file('cut_line.csv')]);
    expect(again.repeated).toBe(true);
    expect(both.map((b) => b.run_id)).toEqual([again.run_id, again.run_id]);
    expect(both.filter((b) => b.repeated)).toHaveLength(1);
    expect(await listRuns(database(), again.study_id)).toHaveLength(1);
  });

  it('refuses another file under an import that was stored, and takes the same for a repetition', async () => {
    const id = randomUUID();
    const send = (name: string) => {
      const form = new FormData();
      form.set('plan', JSON.stringify({ import_id: id, reading: {}, place: newPlace('Sent twice') }));
      form.append('log', new File([file(name).bytes], name));
      return importForm(sent(new Response(form)));
    };
    const stored = await send('near_limit.csv');
    expect(await send('near_limit.csv')).toMatchObject({ run_id: stored.run_id, repeated: true });
    await expect(send('slow_loop.csv')).rejects.toThrow(
      'This import was stored before with other files (near_limit.csv): it is run 1 of Loam White, mount 1, in "Sent twice".',
    );
    expect(await deleteStudy(database(), stored.study_id)).toBe(true);
  });

  it('drops an upload of which nothing more comes; nothing was begun for it, and others are served', async () => {
    const before = await Promise.all(['studies', 'log_files', 'log_file_pieces'].map(count));
    const boundary = 'part';
    const head = `--${boundary}\r\ncontent-disposition: form-data; name="plan"\r\n\r\n{}\r\n--${boundary}\r\ncontent-disposition: form-data; name="log"; filename="slow.csv"\r\n\r\nTime,Die\r\n`;
    const stalled = () =>
      new ReadableStream({
        start(controller) {
          controller.enqueue(new TextEncoder().encode(head));
        },
      });
    const ask = () => new Request('http://x/', { ...post(boundary), body: stalled() } as RequestInit);
    const many = Promise.allSettled(Array.from({ length: 12 }, () => readImportForm(ask(), 1500)));
    const held = await database().query(
      `select from pg_stat_activity where state like 'idle in transaction%' and datname = current_database()`,
    );
    expect(held.rowCount).toBe(0);
    const other = await importRun(plan(newPlace('Meanwhile')), [file('fahrenheit.csv')]);
    expect(other.repeated).toBe(false);
    for (const each of await many)
      expect(each).toMatchObject({
        status: 'rejected',
        reason: { status: 408, message: expect.stringContaining('No byte came for a minute') },
      });
    expect(await deleteStudy(database(), other.study_id)).toBe(true);
    expect(await Promise.all(['studies', 'log_files', 'log_file_pieces'].map(count))).toEqual(before);
  });

  it('refuses a file that already carries a run, and says where it is', async () => {
    await importRun(plan(newPlace('First')), [file('slow_loop.csv')]);
    await expect(importRun(plan(newPlace('Second')), [file('slow_loop.csv')])).rejects.toThrow(
      'slow_loop.csv is already imported: it is run 1 of Loam White, mount 1, in "First".',
    );
  });

  it('leaves nothing behind where the file cannot be read or the place does not fit', async () => {
    const before = await Promise.all(['studies', 'specimens', 'rigs', 'mounts', 'runs', 'log_files', 'channels'].map(count));
    await expect(importRun(plan(newPlace('Broken')), [{ name: 'noise.bin', bytes: new Uint8Array([0, 1, 2, 3, 0, 255]) }])).rejects.toThrow(
      'not a text file',
    );
    await expect(importRun(plan({ ...newPlace('Broken'), study_title: 'First' }), [file('near_limit.csv')])).rejects.toThrow(
      'There is already a study "First"',
    );
    await expect(importRun(plan({ ...newPlace('Broken'), mount_id: 999999 }), [file('near_limit.csv')])).rejects.toThrow(
      'does not belong to',
    );
    expect(await Promise.all(['studies', 'specimens', 'rigs', 'mounts', 'runs', 'log_files', 'channels'].map(count))).toEqual(before);
  });

  it('refuses a run on a mount of another rig', async () => {
    const stored = await importRun(plan(newPlace('Rigs')), [file('over_midnight.csv')]);
    const [mount] = await listMounts(database(), stored.study_id);
    const other = (await listPlaces()).rigs.find((r) => r.name === 'Rig of First');
    const place = { study_id: stored.study_id, specimen_id: mount.specimen_id, mount_id: mount.id, rig_id: other?.id };
    await expect(importRun(plan(place), [file('fahrenheit.csv')])).rejects.toThrow(
      'Mount 1 of Loam White stands on Rig of Rigs, but this run was logged on Rig of First.',
    );
  });

  it('puts further runs on the same mount and judges their start by the first', async () => {
    const stored = await importRun(plan(newPlace('Runs')), [file('plain.csv')]);
    const [mount] = await listMounts(database(), stored.study_id);
    const place = { study_id: stored.study_id, specimen_id: mount.specimen_id, mount_id: mount.id, rig_id: mount.rig_id };
    await importRun(plan(place), [file('lasting_limit.csv')]);
    const runs = await listRuns(database(), stored.study_id);
    expect(runs.map((r) => r.number)).toEqual([1, 2]);
    // the first run starts 3.5 K over ambient, the second 4.8 K: more than 1 K apart
    const { rows } = await database().query('select code from findings where run_id = $1', [runs[1].id]);
    expect(rows.map((r) => r.code)).toContain('heat_soaked');
  });

  it('holds a study to what its reference ran at, where its plan names no set-point', async () => {
    const stored = await importRun(plan(newPlace('Levels', 'Reference')), [
      { name: 'reference.csv', bytes: file('plain.csv').bytes.subarray(0, file('plain.csv').bytes.length - 200) },
    ]);
    const [mount] = await listMounts(database(), stored.study_id);
    const weaker = new TextDecoder()
      .decode(file('plain.csv').bytes)
      .split('\n')
      .map((line, i) =>
        line
          .split(',')
          .map((cell, k) => (i > 0 && k === 7 ? (0.9 * Number(cell)).toFixed(1) : cell))
          .join(','),
      )
      .join('\n');
    expect(weaker.split('\n')[0].split(',')[7]).toContain('Power');
    const place = { study_id: stored.study_id, specimen_name: 'Other', specimen_kind: 'paste', rig_id: mount.rig_id };
    const other = await importRun(plan(place), [{ name: 'weaker.csv', bytes: new TextEncoder().encode(weaker) }]);
    const { rows } = await database().query('select code, message from findings where run_id = $1', [other.run_id]);
    expect(rows.map((r) => r.code)).toEqual(['power_differs']);
    expect(rows[0].message).toMatch(/^Power was 12\d\.\d W, not the 14\d\.\d W the study sets/);
  });

  it('gives specimens of one study added at once places of their own', async () => {
    const stored = await importRun(
      plan(newPlace('Crowd')),
      [file('throttled.csv')].map((f) => ({ ...f, name: 'crowd.csv' })),
    ).catch((e: Error) => e);
    expect(stored).toBeInstanceOf(Error);
    expect((stored as Error).message).toContain('day or the month first');
    const first = await importRun(check(ImportPlan, { import_id: randomUUID(), reading: { day_first: true }, place: newPlace('Crowd') }), [
      file('throttled.csv'),
    ]);
    const texts = ['warm_start.tsv', 'no_ambient.tsv', 'gaps.csv'];
    const rig = (await listMounts(database(), first.study_id))[0].rig_id;
    await Promise.all(
      texts.map((t, i) =>
        importRun(plan({ study_id: first.study_id, specimen_name: `S${i}`, specimen_kind: 'pad', rig_id: rig }), [file(t)]),
      ),
    );
    expect((await listSpecimens(database(), first.study_id)).map((s) => s.position)).toEqual([0, 1, 2, 3]);
  });

  it('deletes a study with its traces and files, and keeps files that others rest on', async () => {
    const bench = file('bench.csv');
    const one = await importRun(plan(newPlace('Gone')), [file('host.csv'), bench]);
    const traces = await count('trace_chunks');
    expect(await deleteStudy(database(), one.study_id)).toBe(true);
    expect(await count('trace_chunks')).toBeLessThan(traces);
    const { rows } = await database().query(
      'select count(*) as n from log_files f where not exists (select from run_files r where r.sha256 = f.sha256)',
    );
    expect(Number(rows[0].n)).toBe(0);
  });
});
