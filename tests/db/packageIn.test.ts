import { createHash } from 'node:crypto';
import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { buffer } from 'node:stream/consumers';
import { afterAll, afterEach, beforeAll, describe, expect, it, vi } from 'vitest';
import { closeDatabase, database } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { checkStore } from '#features/bench/server/checkStore';
import type { ArrivalChoices } from '#features/exchange/model/arrival';
import type { StudyDocument } from '#features/exchange/model/studyDocument';
import { importPackage } from '#features/exchange/server/importPackage';
import { openPackage, PackageError } from '#features/exchange/server/openPackage';
import { previewPackage } from '#features/exchange/server/previewPackage';
import { writePackage } from '#features/exchange/server/writePackage';
import { compareStudy, gatherStudy } from '#features/results/server/studyResults';
import { createSheet } from '#features/shelf/server/sheets';
import type { LabHistory } from '#features/study/model/context';
import { changeOrigin } from '#features/study/server/changeOrigin';
import { labHistory } from '#features/study/server/labHistory';
import { deleteStudy } from '#features/study/store/studies';
import { freshDatabase, onFreshDatabase } from '../database.ts';
import { CHANGED_PACKAGES, changedPackages, importLog, oddStudy, type Parts, partsOf, withHashes, zipOf } from './changedPackages.ts';

const home = onFreshDatabase();
const folder = mkdtempSync(path.join(tmpdir(), 'package-'));
const file = path.join(folder, 'study.zip');
const drops: (() => Promise<void>)[] = [];
afterAll(async () => {
  rmSync(folder, { recursive: true });
  for (const drop of drops) await drop();
});

let whole: Buffer;
let study: number;
beforeAll(async () => {
  study = await oddStudy();
  whole = await packed(study);
  writeFileSync(file, whole);
});

const packed = (id: number) => writePackage(id).then((p) => buffer(p.stream));

/** A store elsewhere; what is asked for from then on is asked for there. */
async function elsewhere(): Promise<void> {
  await closeDatabase();
  const fresh = await freshDatabase();
  drops.push(fresh.drop);
  process.env.DATABASE_URL = fresh.url;
}

afterEach(async () => {
  await closeDatabase();
  process.env.DATABASE_URL = home.url();
});

async function brought(bytes: Buffer, choices: ArrivalChoices = {}, signal?: AbortSignal) {
  const at = path.join(folder, 'in.zip');
  writeFileSync(at, bytes);
  const opened = await openPackage(at);
  try {
    return await importPackage(opened, { choices, sha256: createHash('sha256').update(bytes).digest('hex'), signal });
  } finally {
    opened.close();
  }
}

const previewed = async (bytes: Buffer) => {
  const at = path.join(folder, 'in.zip');
  writeFileSync(at, bytes);
  const opened = await openPackage(at);
  try {
    return await previewPackage(opened);
  } finally {
    opened.close();
  }
};

/** The package with one of its parts changed, and all hashes made to fit. */
async function changedBy(change: (parts: Parts) => void): Promise<Buffer> {
  const parts = await partsOf(whole);
  change(parts);
  return zipOf(withHashes(parts));
}

const document = (parts: Parts, change: (d: StudyDocument) => void) => {
  const read = JSON.parse(String(parts.get('study.json')));
  change(read);
  parts.set('study.json', Buffer.from(JSON.stringify(read)));
};

/** Rows of every table, by which one sees that nothing was stored. */
async function rowCounts(): Promise<string> {
  const { rows } = await database().query<{ name: string }>(
    `select c.relname as name from pg_class c join pg_namespace n on n.oid = c.relnamespace
     where n.nspname = 'public' and c.relkind = 'r' and c.relname not in ('kept_answers', 'kept_uses', 'study_versions') order by 1`,
  );
  const counts = await database().query(
    rows.map((r) => `select '${r.name}' as t, count(*)::int as n from "${r.name}"`).join(' union all '),
  );
  return JSON.stringify(counts.rows);
}

describe('a package that comes in', () => {
  it('is the same when it leaves an empty store again, and all of it is sound there', async () => {
    await elsewhere();
    const stored = await brought(whole);
    expect(stored).toMatchObject({ study_id: study, differences: [], unchecked: [], runs: 2 });
    expect((await packed(study)).equals(whole)).toBe(true);
    expect((await checkStore({ quick: false, say: () => {} })).wrong).toEqual([]);
    // what was deleted for good is in the journal, and is not mistaken for what comes in again
    await deleteStudy(database(), study);
    const again = await brought(whole);
    expect(again.study_id).toBe(study);
    const { rows } = await database().query(
      `select r.id from runs r join changes c on c.subject = 'run' and c.subject_id = r.id order by r.id`,
    );
    expect(rows).toHaveLength(1);
    // and may be brought in once
    const before = await rowCounts();
    await expect(brought(whole)).rejects.toThrow(
      /This study, or a part of it, is here already\. .* is already imported: it is run 1 of =1\+1/,
    );
    expect((await previewed(whole)).problems).toHaveLength(1);
    expect(await rowCounts()).toBe(before);
  });

  it('gets other numbers, another title and the sheets that are chosen where its own are taken', async () => {
    await elsewhere();
    const other = await importLog(
      { study_title: 'Größe <b>, "quoted"', specimen_name: 'X', specimen_kind: 'paste', rig_name: 'Rig; one', rig_limit_c: 90 },
      'other',
    );
    await createSheet('materials', { name: 'wick', sheet: { kind: 'paste', conductivity_w_per_mk: 9 } });
    const bytes = await changedBy((parts) =>
      document(parts, (d) => {
        d.shelf.materials.push({ id: 1, name: 'Wick', sheet: { kind: 'paste', conductivity_w_per_mk: 5 }, version: 3 });
        d.specimens[0].material_id = 1;
      }),
    );
    const preview = await previewed(bytes);
    expect(preview.titled).toBe('Größe <b>, "quoted" (2)');
    expect(preview.sheets).toMatchObject([
      { key: 'materials/1', name: 'Wick', mine: { name: 'wick', differs: ['Claimed conductivity'] }, way: 'mine' },
      { key: expect.stringMatching(/^rigs/), name: 'Rig; one', mine: { differs: ['Throttle limit'] }, way: 'both' },
    ]);
    const first = await brought(bytes);
    expect(first.study_id).not.toBe(other.study_id);
    const shelf = async () =>
      (await database().query(`select name, sheet ->> 'conductivity_w_per_mk' as k from materials order by id`)).rows;
    const rigs = async () => (await database().query('select name, throttle_limit_c as limit from rigs order by id')).rows;
    expect(await shelf()).toEqual([{ name: 'wick', k: '9' }]);
    expect(await rigs()).toEqual([
      { name: 'Rig; one', limit: 90 },
      { name: 'Rig; one (2)', limit: 95 },
    ]);
    const specimen = async (id: number) =>
      (await database().query('select m.name from specimens s join materials m on m.id = s.material_id where s.study_id = $1', [id])).rows;
    expect(await specimen(first.study_id)).toEqual([{ name: 'wick' }]);
    // a run stands under the numbers it has here, with its file and its trace
    const { results } = { results: await compareStudy(await gatherStudy(first.study_id)) };
    expect(results.runs).toBe(2);
    await deleteStudy(database(), first.study_id);
    const rig = preview.sheets[1].key;
    await brought(bytes, { sheets: { 'materials/1': 'theirs', [rig]: 'mine' } });
    expect(await shelf()).toEqual([{ name: 'wick', k: '5' }]);
    expect(await rigs()).toHaveLength(2);
    await expect(brought(await changedBy(() => {}), { sheets: { 'materials/9': 'mine' } })).rejects.toThrow(Refusal);
  });

  it('keeps the scatter of the lab that measured it, and gives none to the lab here', async () => {
    const scatter: LabHistory[] = [{ kind: 'paste', mount_sd: 0.31, run_sd: 0.05, mounts: 24, df: 20 }];
    const told = await changedBy((parts) =>
      document(parts, (d) => {
        d.comparison.lab_scatter = scatter;
      }),
    );
    await elsewhere();
    const place = { study_title: 'Own', specimen_kind: 'paste', rig_name: 'R', rig_limit_c: 95 };
    const { study_id, rig_id, specimen_id } = await importLog({ ...place, specimen_name: 'A' }, 'own 1');
    await importLog({ study_id, specimen_id, rig_id }, 'own 2');
    const before = await labHistory(database());
    const foreign = await brought(told);
    const results = await gatherStudy(foreign.study_id);
    expect(results.history).toEqual(scatter);
    expect(results.origin).toMatchObject({ own: false, lab: '', sha256: createHash('sha256').update(told).digest('hex') });
    expect(await labHistory(database())).toEqual(before);
    // what was said of it may be said otherwise
    await changeOrigin(foreign.study_id, { own: true });
    expect((await gatherStudy(foreign.study_id)).history).toEqual(await labHistory(database()));
    expect(await labHistory(database())).not.toEqual(scatter);
    await changeOrigin(foreign.study_id, { own: false });
    expect((await gatherStudy(foreign.study_id)).history).toEqual(scatter);
    expect(await labHistory(database())).toEqual(before);
    await expect(changeOrigin(study_id, { own: true })).rejects.toThrow('did not come from elsewhere');
    await deleteStudy(database(), foreign.study_id);
    const own = await brought(told, { own: true });
    expect((await gatherStudy(own.study_id)).history).toEqual(await labHistory(database()));
  });

  it('keeps the bench days of the lab that measured it, whatever the zone here', async () => {
    await elsewhere();
    const { study_id } = await brought(whole);
    const days = async () => (await gatherStudy(study_id)).facts.runs.map((r) => r.day);
    const told = await days();
    vi.stubEnv('TZ', 'Pacific/Kiritimati');
    expect(await days()).toEqual(told);
    vi.unstubAllEnvs();
  });

  it('may lie in a folder, as it does when somebody unpacked and packed it again', async () => {
    await elsewhere();
    const parts = await partsOf(whole);
    const again = new Map([
      ...[...parts].map(([name, b]): [string, Buffer] => [`my study/${name}`, b]),
      ['__MACOSX/._x', Buffer.from('x')],
    ]);
    expect(await brought(await zipOf(again))).toMatchObject({ study_id: study, differences: [] });
  });

  it('lists what was computed otherwise here, and counts that', async () => {
    await elsewhere();
    const bytes = await changedBy((parts) => {
      const [head, first, ...rest] = String(parts.get('tables/runs.csv')).split('\n');
      const cells = first.split(',');
      cells[head.split(',').indexOf('rise_k')] = '12.5';
      parts.set('tables/runs.csv', Buffer.from([head, cells.join(','), ...rest].join('\n')));
    });
    const { differences, study_id } = await brought(bytes);
    expect(differences).toHaveLength(1);
    expect(differences[0]).toMatch(/^tables\/runs\.csv: Run \d+ \(=1\+1, mount 1, run 1\), rise_k is 12\.5, and its logs give /);
    expect((await gatherStudy(study_id)).origin?.differences).toEqual(differences);
    expect((await gatherStudy(study_id)).facts.runs.map((r) => r.values.rise)).not.toContain(12.5);
  });

  it('is refused as a whole where it was cancelled, is newer, swells, or names what is not in it', async () => {
    await elsewhere();
    const before = await rowCounts();
    await expect(brought(whole, {}, AbortSignal.abort())).rejects.toThrow('The import was cancelled. Nothing was stored.');
    const newer = await changedBy((parts) =>
      document(parts, (d) => {
        d.version = 2 as never;
      }),
    );
    await expect(brought(newer)).rejects.toThrow('A newer version of Warm Gauge wrote this package');
    const bomb = await changedBy((parts) => parts.set('logs/1/0-a_b_c.csv', Buffer.alloc(400_000_000)));
    await expect(brought(bomb)).rejects.toThrow('would swell more than 300 times');
    const lost = await changedBy((parts) => {
      parts.set(
        'tables/decisions.csv',
        Buffer.from(
          String(parts.get('tables/decisions.csv'))
            .replace(',run,', ',mount,')
            .replace(/,mount,\d+,/, ',mount,99,'),
        ),
      );
    });
    await expect(brought(lost)).rejects.toThrow(/is about mount 99, which is not in the package\. Nothing was stored\./);
    const noReport = await changedBy((parts) => parts.set('report/report-v1.json', Buffer.from('{"title": 1}')));
    await expect(brought(noReport)).rejects.toThrow('report/report-v1.json is not a report that can be shown.');
    const longNote = await changedBy((parts) => {
      const [head, row] = String(parts.get('tables/notes.csv')).split('\n');
      parts.set('tables/notes.csv', Buffer.from(`${head}\n${row.replace("'-1 step", 'x'.repeat(600))}\n`));
    });
    await expect(brought(longNote)).rejects.toThrow('The package holds what a study cannot hold (all_run_notes, run_notes_text_check)');
    expect(await rowCounts()).toBe(before);
  });
});

describe('packages that were changed at random and their hashes made to fit', () => {
  it('are refused in words with nothing stored, or stored whole', async () => {
    await elsewhere();
    const wordless: string[] = [];
    const half: string[] = [];
    let stored = 0;
    for await (const { bytes, parts, kind } of changedPackages(whole, CHANGED_PACKAGES)) {
      const given = parts ? await zipOf(withHashes(parts)) : bytes;
      const before = await rowCounts();
      try {
        const { study_id } = await brought(given);
        stored++;
        // it is whole: its results can be told and it can leave again
        await compareStudy(await gatherStudy(study_id));
        await packed(study_id);
        await deleteStudy(database(), study_id);
      } catch (error) {
        if (!(error instanceof PackageError || error instanceof Refusal) || /undefined|\[object/.test(error.message))
          wordless.push(`${kind}: ${error instanceof Error ? error.stack?.slice(0, 400) : error}`);
        if ((await rowCounts()) !== before) half.push(kind);
      }
    }
    expect(wordless).toEqual([]);
    expect(half).toEqual([]);
    expect(stored).toBeGreaterThan(0.04 * CHANGED_PACKAGES);
    expect(readdirSync(folder).sort()).toEqual(['in.zip', 'study.zip']);
  });
});
