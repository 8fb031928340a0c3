import { randomUUID } from 'node:crypto';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { buffer } from 'node:stream/consumers';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import yauzl from 'yauzl';
import yazl from 'yazl';
import { database } from '#app/database/pool';
import { seededRandom } from '#core/stats/random';
import { openPackage, PackageError } from '#features/exchange/server/openPackage';
import { verifyPackage } from '#features/exchange/server/verifyPackage';
import { writePackage } from '#features/exchange/server/writePackage';
import { ImportPlan } from '#features/run/model/importPlan';
import { importRun } from '#features/run/server/importRun';
import { check } from '#rules/validation';
import { onFreshDatabase } from '../database.ts';

onFreshDatabase();
const folder = mkdtempSync(path.join(tmpdir(), 'package-'));
const file = path.join(folder, 'study.zip');
const log = readFileSync(new URL('../reference/logs/ambient_drift.csv', import.meta.url));
afterAll(() => rmSync(folder, { recursive: true }));

const importLog = (place: object, mark: string, name = `${mark}.csv`) =>
  importRun(check(ImportPlan, { import_id: randomUUID(), reading: {}, place }), [
    { name, bytes: new Uint8Array(Buffer.concat([Buffer.from(`# ${mark}\n`), log])) },
  ]);

async function verified(at: string) {
  const opened = await openPackage(at);
  try {
    return await verifyPackage(opened);
  } finally {
    opened.close();
  }
}

type Parts = Map<string, Buffer>;

async function zipOf(parts: Parts): Promise<Buffer> {
  const zip = new yazl.ZipFile();
  for (const [name, bytes] of parts) zip.addBuffer(bytes, name);
  zip.end();
  return buffer(zip.outputStream as never);
}

let whole: Buffer;
let study: number;
beforeAll(async () => {
  const first = await importLog(
    { study_title: 'Größe <b>, "quoted"', specimen_name: '=1+1', specimen_kind: 'paste', rig_name: 'Rig; one', rig_limit_c: 95 },
    'a',
    '../../a "b", c.csv',
  );
  study = first.study_id;
  await importLog({ study_id: study, specimen_name: "'=2", specimen_kind: 'pad', rig_id: first.rig_id }, 'b', '=b.csv');
  const report = '{"format":1,"title":"Größe"}';
  const things: [string, unknown[]][] = [
    [`insert into mount_faults (mount_id, kind, note, who) values ($1, 'other', 'It hums, "loudly"', 'M.')`, [first.mount_id]],
    [`insert into mount_openings (mount_id, found, note) values ($1, '{dry,shifted}', '')`, [first.mount_id]],
    [`insert into run_notes (run_id, at_s, text) values ($1, 12.5, '-1 step')`, [first.run_id]],
    [
      `insert into sound_clips (specimen_id, name, kind, level_db, bytes) values ($1, 'Lüfter 1.wav', 'audio/wav', 31.5, 'RIFF')`,
      [first.specimen_id],
    ],
    [`insert into recommendations (study_id, position, reader, words) values ($1, 0, 'Whoever', 'Take it.')`, [study]],
    [
      `insert into reports (study_id, number, address, content, sha256, author) values ($1, 1, 'groesse-1', $2, encode(sha256(convert_to($2, 'UTF8')), 'hex'), 'A. Author')`,
      [study, report],
    ],
    [
      `insert into changes (who, subject, subject_id, action, reason, before, after) values ('M.', 'run', $1, 'note', 'seen', '{"a": 1}', null)`,
      [first.run_id],
    ],
  ];
  for (const [sql, values] of things) await database().query(sql, values);
  whole = await buffer((await writePackage(study)).stream);
  writeFileSync(file, whole);
});

describe('the package of a study with odd names and single mounts', () => {
  it('agrees with itself, and holds its files by names that every system takes', async () => {
    expect(await verified(file)).toMatchObject({ differences: [], unchecked: [], runs: 2 });
    const zip = await yauzl.fromBufferPromise(whole, { lazyEntries: true });
    const names: string[] = [];
    for await (const entry of zip.eachEntry()) names.push(entry.fileName);
    expect(names.filter((n) => n.startsWith('logs/')).map((n) => n.replace(/\d+\//, 'N/'))).toEqual([
      'logs/N/0-a_b_c.csv',
      'logs/N/0-b.csv',
    ]);
    for (const name of names) expect(name).toMatch(/^[A-Za-z0-9._/-]+$/);
    expect(names.filter((n) => n.startsWith('clips/') || n.startsWith('report/'))).toEqual([
      'report/report-v1.json',
      'clips/1-Lu_fter_1.wav',
    ]);
    const opened = await openPackage(file);
    expect(opened.descriptor).toMatchObject({
      version: '1.0.0',
      contributors: [
        { title: 'A. Author', role: 'author' },
        { title: 'M.', role: 'contributor' },
      ],
    });
    for (const table of ['faults', 'openings', 'notes', 'clips', 'recommendations', 'reports', 'decisions'])
      expect((await opened.text(`tables/${table}.csv`)).trim().split('\n'), table).toHaveLength(2);
    opened.close();
  });

  it('is the same after the store was looked at, and another after anything of the study was changed', async () => {
    const again = () => writePackage(study).then((p) => buffer(p.stream));
    expect((await again()).equals(whole)).toBe(true);
    await database().query(`update studies set question = 'Other?' where id = $1`, [study]);
    expect((await again()).equals(whole)).toBe(false);
    await database().query(`update studies set question = '' where id = $1`, [study]);
    expect((await again()).equals(whole)).toBe(true);
  });

  it('breaks off where a log is damaged, rather than carry another', async () => {
    await database().query(
      `update log_file_pieces set bytes = set_byte(bytes, 100, get_byte(bytes, 100) # 1) where file_id = (select min(id) from log_files)`,
    );
    await expect(writePackage(study).then((p) => buffer(p.stream))).rejects.toThrow('is damaged in the store');
    await database().query(
      `update log_file_pieces set bytes = set_byte(bytes, 100, get_byte(bytes, 100) # 1) where file_id = (select min(id) from log_files)`,
    );
  });
});

describe('five hundred packages that were changed at random', () => {
  const KINDS = ['document', 'cell', 'file', 'row', 'bytes'];
  const changes: ((parts: Parts, random: () => number) => void)[] = [
    // a value of a document is another, of another type, or gone
    (parts, random) => {
      const name = random() < 0.7 ? 'study.json' : 'datapackage.json';
      const document = JSON.parse(String(parts.get(name)));
      let at = document;
      for (let depth = 0; depth < 8; depth++) {
        const keys = Object.keys(at);
        const key = keys[Math.floor(random() * keys.length)];
        if (key === undefined) break;
        const next = at[key];
        if (typeof next === 'object' && next !== null && Object.keys(next).length > 0 && random() < 0.8) {
          at = next;
          continue;
        }
        const values = [null, 'x', -1, 1e300, [], {}, true, '../../../etc/passwd', '<script>alert(1)</script>', '\u0000'];
        if (random() < 0.2) delete at[key];
        else at[key] = values[Math.floor(random() * values.length)];
        break;
      }
      parts.set(name, Buffer.from(JSON.stringify(document)));
    },
    // a cell of a table
    (parts, random) => {
      const tables = [...parts.keys()].filter((n) => n.startsWith('tables/'));
      const name = tables[Math.floor(random() * tables.length)];
      const lines = String(parts.get(name)).split('\n');
      const row = Math.floor(random() * (lines.length - 1));
      const cells = lines[row].split(',');
      const values = ['', '-1', '1e999', 'NaN', '=cmd', '99999999', '"', '2026-99-99', '<script>', '../x', '\u0000'];
      cells[Math.floor(random() * cells.length)] = values[Math.floor(random() * values.length)];
      lines[row] = cells.join(',');
      parts.set(name, Buffer.from(lines.join('\n')));
    },
    // a file is gone, empty, cut off, or another
    (parts, random) => {
      const names = [...parts.keys()];
      const name = names[Math.floor(random() * names.length)];
      const bytes = parts.get(name) as Buffer;
      const kind = Math.floor(random() * 4);
      if (kind === 0) parts.delete(name);
      else if (kind === 1) parts.set(name, Buffer.alloc(0));
      else if (kind === 2) parts.set(name, bytes.subarray(0, Math.floor(random() * bytes.length)));
      else parts.set(name, Buffer.from(Array.from({ length: 500 }, () => Math.floor(random() * 256))));
    },
    // a row is doubled or gone
    (parts, random) => {
      const tables = [...parts.keys()].filter((n) => n.startsWith('tables/'));
      const name = tables[Math.floor(random() * tables.length)];
      const lines = String(parts.get(name)).split('\n');
      const row = Math.floor(random() * (lines.length - 1));
      if (random() < 0.5) lines.splice(row, 1);
      else lines.splice(row, 0, lines[row]);
      parts.set(name, Buffer.from(lines.join('\n')));
    },
  ];

  it('are each told of or refused in words, and no file is written', async () => {
    const { uniform: random } = seededRandom(23);
    const parts: Parts = new Map();
    const zip = await yauzl.fromBufferPromise(whole, { lazyEntries: true });
    for await (const entry of zip.eachEntry()) parts.set(entry.fileName, await buffer(await zip.openReadStreamPromise(entry)));
    const changed = path.join(folder, 'changed.zip');
    const unheard: string[] = [];
    const wordless: string[] = [];
    for (let i = 0; i < 500; i++) {
      let bytes: Buffer;
      if (i % 5 === 4) {
        // bytes of the ZIP itself
        bytes = Buffer.from(whole);
        for (let n = 0; n < 8; n++) bytes[Math.floor(random() * bytes.length)] ^= 1 + Math.floor(random() * 255);
      } else {
        const copy: Parts = new Map([...parts].map(([name, b]) => [name, Buffer.from(b)]));
        changes[i % 5](copy, random);
        bytes = await zipOf(copy);
        if ([...copy].every(([name, b]) => parts.get(name)?.equals(b)) && copy.size === parts.size) continue;
      }
      writeFileSync(changed, bytes);
      try {
        const { differences } = await verified(changed);
        if (differences.length === 0) unheard.push(KINDS[i % 5]);
      } catch (error) {
        if (!(error instanceof PackageError)) wordless.push(`${i}: ${error instanceof Error ? error.stack?.slice(0, 300) : error}`);
      }
    }
    expect(wordless).toEqual([]);
    // what only tells the reader something (a title, a description) may be another; and bytes of the ZIP that say nothing
    expect(unheard.filter((kind) => kind !== 'document' && kind !== 'bytes')).toEqual([]);
    expect(unheard.length).toBeLessThan(60);
    expect(readdirSync(folder).sort()).toEqual(['changed.zip', 'study.zip']);
  });
});
