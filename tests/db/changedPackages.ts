import { createHash, randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { buffer } from 'node:stream/consumers';
import Papa from 'papaparse';
import yauzl from 'yauzl';
import yazl from 'yazl';
import { database } from '#app/database/pool';
import { seededRandom } from '#core/stats/random';
import { freezeReport } from '#features/report/server/freeze';
import { ImportPlan } from '#features/run/model/importPlan';
import { importRun } from '#features/run/server/importRun';
import { check } from '#rules/validation';

const log = readFileSync(new URL('../reference/logs/ambient_drift.csv', import.meta.url));

export const importLog = (place: object, mark: string, name = `${mark}.csv`) =>
  importRun(check(ImportPlan, { import_id: randomUUID(), reading: {}, place }), [
    { name, bytes: new Uint8Array(Buffer.concat([Buffer.from(`# ${mark}\n`), log])) },
  ]);

/** A study with odd names, single mounts, and one of everything that a package carries but the demo has not. */
export async function oddStudy(): Promise<number> {
  const first = await importLog(
    { study_title: 'Größe <b>, "quoted"', specimen_name: '=1+1', specimen_kind: 'paste', rig_name: 'Rig; one', rig_limit_c: 95 },
    'a',
    '../../a "b", c.csv',
  );
  const study = first.study_id;
  await importLog({ study_id: study, specimen_name: "'=2", specimen_kind: 'pad', rig_id: first.rig_id }, 'b', '=b.csv');
  const things: [string, unknown[]][] = [
    [`insert into mount_faults (mount_id, kind, note, who) values ($1, 'other', 'It hums, "loudly"', 'M.')`, [first.mount_id]],
    [`insert into mount_openings (mount_id, found, note) values ($1, '{dry,shifted}', '')`, [first.mount_id]],
    [`insert into run_notes (run_id, at_s, text) values ($1, 12.5, '-1 step')`, [first.run_id]],
    [
      `insert into sound_clips (specimen_id, name, kind, level_db, bytes) values ($1, 'Lüfter 1.wav', 'audio/wav', 31.5, $2)`,
      [first.specimen_id, Buffer.concat([Buffer.from('RIFF\0\0\0\0WAVEfmt '), Buffer.alloc(40)])],
    ],
    [`insert into recommendations (study_id, position, reader, words) values ($1, 0, 'Whoever', 'Take it.')`, [study]],
    [
      `insert into changes (who, subject, subject_id, action, reason, before, after) values ('M.', 'run', $1, 'note', 'seen', '{"a": 1}', null)`,
      [first.run_id],
    ],
  ];
  for (const [sql, values] of things) await database().query(sql, values);
  await freezeReport(study, { author: 'A. Author', who: 'M.' });
  return study;
}

export type Parts = Map<string, Buffer>;

/** Parts as a ZIP again. */
export async function zipOf(parts: Parts): Promise<Buffer> {
  const zip = new yazl.ZipFile();
  for (const [name, bytes] of parts) zip.addBuffer(bytes, name);
  zip.end();
  return buffer(zip.outputStream as never);
}

const sha256 = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex');

/** The same parts with all hashes made to fit, as somebody would who hides what he changed. */
export function withHashes(given: Parts): Parts {
  const parts = new Map(given);
  for (const table of ['files', 'photographs', 'clips', 'reports']) {
    const name = `tables/${table}.csv`;
    const [head, ...rows] = Papa.parse<string[]>(String(parts.get(name) ?? '')).data;
    const [at, hash] = ['path', 'sha256'].map((column) => head?.indexOf(column) ?? -1);
    if (at < 0 || hash < 0) continue;
    for (const cells of rows) {
      const bytes = parts.get(cells[at]);
      if (bytes) cells[hash] = sha256(bytes);
    }
    parts.set(name, Buffer.from(Papa.unparse([head, ...rows], { newline: '\n' })));
  }
  try {
    const descriptor = JSON.parse(String(parts.get('datapackage.json')));
    for (const resource of descriptor.resources) {
      const bytes = parts.get(resource.path);
      if (bytes) Object.assign(resource, { bytes: bytes.length, hash: `sha256:${sha256(bytes)}` });
    }
    parts.set('datapackage.json', Buffer.from(JSON.stringify(descriptor)));
  } catch {
    // a descriptor that is none stays as it is
  }
  return parts;
}

/** Parts of a ZIP by their names. */
export async function partsOf(whole: Buffer): Promise<Parts> {
  const parts: Parts = new Map();
  const zip = await yauzl.fromBufferPromise(whole, { lazyEntries: true });
  for await (const entry of zip.eachEntry()) parts.set(entry.fileName, await buffer(await zip.openReadStreamPromise(entry)));
  return parts;
}

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

/** How many are tried; CHANGED_PACKAGES=500 was asked for once, and takes a minute and a half in each direction. */
export const CHANGED_PACKAGES = Number(process.env.CHANGED_PACKAGES ?? 150);

/**
 * Packages that were changed at random, always the same ones; those that came out as they were are left out.
 * @param whole the package they are made of
 */
export async function* changedPackages(whole: Buffer, count: number): AsyncGenerator<{ bytes: Buffer; kind: string; parts: Parts | null }> {
  const { uniform: random } = seededRandom(23);
  const parts = await partsOf(whole);
  for (let i = 0; i < count; i++) {
    const kind = KINDS[i % 5];
    if (kind === 'bytes') {
      // bytes of the ZIP itself
      const bytes = Buffer.from(whole);
      for (let n = 0; n < 8; n++) bytes[Math.floor(random() * bytes.length)] ^= 1 + Math.floor(random() * 255);
      yield { bytes, kind, parts: null };
      continue;
    }
    const copy: Parts = new Map([...parts].map(([name, b]) => [name, Buffer.from(b)]));
    changes[i % 5](copy, random);
    if ([...copy].every(([name, b]) => parts.get(name)?.equals(b)) && copy.size === parts.size) continue;
    yield { bytes: await zipOf(copy), kind, parts: copy };
  }
}
