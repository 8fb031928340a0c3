import { createHash } from 'node:crypto';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { buffer } from 'node:stream/consumers';
import { gunzipSync, gzipSync } from 'node:zlib';
import { Ajv } from 'ajv';
import addFormats from 'ajv-formats';
import datapackage from 'datapackage';
import Papa from 'papaparse';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import yauzl from 'yauzl';
import yazl from 'yazl';
import { TABLES } from '#features/exchange/model/tables';
import { openPackage } from '#features/exchange/server/openPackage';
import { verifyPackage } from '#features/exchange/server/verifyPackage';
import { type App, startApp } from './app.ts';

/** Studies of the demo as packages, and what a reader finds who recomputes them. */
let app: App;
const folder = mkdtempSync(path.join(tmpdir(), 'package-'));
beforeAll(async () => {
  app = await startApp('demo');
});
afterAll(async () => {
  await app.stop();
  rmSync(folder, { recursive: true });
});

type Parts = Map<string, Buffer>;

/** A study of the demo that has photographs. */
let photographed = 0;

async function fetched(study: number, query = ''): Promise<Buffer> {
  const answer = await fetch(`${app.url}/api/studies/${study}/package${query}`);
  expect(answer.status).toBe(200);
  expect(answer.headers.get('content-disposition')).toMatch(/^attachment; filename="[a-z0-9._-]+\.zip"$/);
  return Buffer.from(await answer.arrayBuffer());
}

async function partsOf(bytes: Buffer): Promise<Parts> {
  const zip = await yauzl.fromBufferPromise(bytes, { lazyEntries: true });
  const parts: Parts = new Map();
  for await (const entry of zip.eachEntry()) parts.set(entry.fileName, await buffer(await zip.openReadStreamPromise(entry)));
  return parts;
}

/** Bytes of a package again; with its hashes made to fit, as somebody would who hides what he changed. */
async function packed(parts: Parts, hides: boolean): Promise<string> {
  const sha256 = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex');
  if (hides) {
    for (const table of ['files', 'photographs']) {
      const name = `tables/${table}.csv`;
      const [head, ...lines] = String(parts.get(name)).split('\n');
      const [at, hash] = ['path', 'sha256'].map((column) => head.split(',').indexOf(column));
      const fitted = lines.map((line) => {
        const cells = line.split(',');
        const bytes = parts.get(cells[at]);
        if (bytes) cells[hash] = sha256(bytes);
        return cells.join(',');
      });
      parts.set(name, Buffer.from([head, ...fitted].join('\n')));
    }
    const descriptor = JSON.parse(String(parts.get('datapackage.json')));
    for (const resource of descriptor.resources) {
      const bytes = parts.get(resource.path) as Buffer;
      Object.assign(resource, { bytes: bytes.length, hash: `sha256:${sha256(bytes)}` });
    }
    parts.set('datapackage.json', Buffer.from(JSON.stringify(descriptor)));
  }
  const zip = new yazl.ZipFile();
  for (const [name, bytes] of parts) zip.addBuffer(bytes, name);
  zip.end();
  const file = path.join(folder, 'changed.zip');
  writeFileSync(file, await buffer(zip.outputStream as never));
  return file;
}

async function verified(file: string) {
  const opened = await openPackage(file);
  try {
    return await verifyPackage(opened);
  } finally {
    opened.close();
  }
}

const edit = (parts: Parts, name: string, change: (text: string) => string) => {
  const before = String(parts.get(name));
  const after = change(before);
  expect(after).not.toBe(before);
  parts.set(name, Buffer.from(after));
};

/** One cell of the first row of a table for which a test holds. */
const editCell = (parts: Parts, table: string, column: string, change: (cell: string) => string, which: (cells: string[]) => boolean) =>
  edit(parts, `tables/${table}.csv`, (text) => {
    const [head, ...lines] = text.split('\n');
    const at = head.split(',').indexOf(column);
    const row = lines.findIndex((line) => which(line.split(',')));
    const cells = lines[row].split(',');
    cells[at] = change(cells[at]);
    lines[row] = cells.join(',');
    return [head, ...lines].join('\n');
  });

describe('a study as a package', () => {
  it('agrees with itself, for every study of the demo, and is the same whenever it is asked for', async () => {
    const { studies } = (await (await fetch(`${app.url}/api/places`)).json()) as { studies: { id: number; title: string }[] };
    expect(studies.length).toBeGreaterThan(5);
    const rows = new Map<string, number>();
    for (const { id, title } of studies) {
      const bytes = await fetched(id);
      const file = path.join(folder, `${id}.zip`);
      writeFileSync(file, bytes);
      const { differences, runs, pairs, unchecked } = await verified(file);
      expect(differences, title).toEqual([]);
      expect(runs, title).toBeGreaterThan(0);
      expect(pairs, title).toBeGreaterThan(0);
      for (const line of unchecked) expect(line).toMatch(/it was read from a display|left out of the package/);
      expect((await fetched(id)).equals(bytes), title).toBe(true);
      for (const [name, part] of await partsOf(bytes))
        if (name.startsWith('tables/')) rows.set(name, (rows.get(name) ?? 0) + String(part).trim().split('\n').length - 1);
    }
    // what the demo has nothing for is tried in tests/db/package.test.ts
    const empty = [...rows].filter(([, n]) => n === 0).map(([name]) => name);
    expect(empty.sort()).toEqual(['clips', 'decisions', 'faults', 'notes', 'reports', 'steps'].map((name) => `tables/${name}.csv`));
  });

  it('is what others take for a Data Package: its descriptor, every table and study.json', async () => {
    for (const id of [1, 2, 3]) {
      const place = path.join(folder, `unpacked-${id}`);
      for (const [name, bytes] of await partsOf(await fetched(id))) {
        mkdirSync(path.dirname(path.join(place, name)), { recursive: true });
        writeFileSync(path.join(place, name), bytes);
      }
      const read = await datapackage.Package.load(path.join(place, 'datapackage.json'), { basePath: place, strict: true });
      expect(read.errors).toEqual([]);
      const tables = read.resources.filter((r) => r.tabular);
      expect(tables.length).toBe(TABLES.length);
      for (const table of tables) {
        const rows = await table.read({ keyed: true });
        const [, ...lines] = Papa.parse<string[]>(readFileSync(path.join(place, `tables/${table.name}.csv`), 'utf8'), {
          skipEmptyLines: true,
        }).data;
        expect(rows.length, table.name).toBe(lines.length);
      }
      // who reads it would notice a cell that is none of its column
      const runs = path.join(place, 'tables/runs.csv');
      writeFileSync(runs, readFileSync(runs, 'utf8').replace(/,true,/, ',yes,'));
      await expect(tables.find((t) => t.name === 'runs')?.read({ keyed: true })).rejects.toThrow();
      const ajv = new Ajv({ strict: true, allowUnionTypes: true });
      addFormats(ajv);
      const schema = JSON.parse(readFileSync(path.join(place, 'schema/study-1.json'), 'utf8'));
      expect(ajv.validate(schema, JSON.parse(readFileSync(path.join(place, 'study.json'), 'utf8'))), ajv.errorsText()).toBe(true);
    }
  });

  describe('that was changed', () => {
    let whole: Buffer;
    beforeAll(async () => {
      for (photographed = 1; ; photographed++) {
        whole = await fetched(photographed);
        if ([...(await partsOf(whole)).keys()].some((name) => name.startsWith('photographs/'))) break;
      }
    });
    const isRow = (cells: string[]) => /^\d+$/.test(cells[0]);
    const firstLog = (parts: Parts) => [...parts.keys()].find((name) => name.startsWith('logs/')) as string;
    const changes: [string, RegExp, (parts: Parts) => void | Promise<void>][] = [
      [
        'a digit of a log in the window',
        /^tables\/runs\.csv: Run \d+ \(.*\), rise_k is .*, and its logs give /,
        (parts) => {
          const name = firstLog(parts);
          edit(parts, name, (text) => {
            const lines = text.split('\n');
            const run = name.split('/')[1];
            const [head, ...rows] = String(parts.get('tables/runs.csv')).split('\n');
            const at = (column: string) => head.split(',').indexOf(column);
            const cells = rows.find((row) => row.startsWith(`${run},`))?.split(',') ?? [];
            const middle = (Number(cells[at('window_start_s')]) + Number(cells[at('window_end_s')])) / 2;
            const row = Math.round(middle / Number(cells[at('period_s')]));
            lines[row] = lines[row].replace(/(\d)(\.\d)/, (_, digit, rest) => `${(Number(digit) + 3) % 10}${rest}`);
            return lines.join('\n');
          });
        },
      ],
      [
        'a value of a run in its table',
        /^tables\/runs\.csv: Run \d+ \(.*\), rise_k is .*, and its logs give /,
        (parts) => editCell(parts, 'runs', 'rise_k', (cell) => `${Number(cell) + 0.1}`, isRow),
      ],
      [
        'a verdict',
        /^tables\/pairs\.csv: .*, verdict is tied, and the values give /,
        (parts) =>
          editCell(
            parts,
            'pairs',
            'verdict',
            () => 'tied',
            (cells) => cells.includes('cooler') || cells.includes('warmer'),
          ),
      ],
      [
        'a run that was dropped from the table',
        /^tables\/runs\.csv: run \d+ is in study\.json, and missing here\.$/,
        (parts) => edit(parts, 'tables/runs.csv', (text) => text.replace(/\n[^\n]+\n$/, '\n')),
      ],
      [
        'a run that was dropped everywhere',
        /^tables\/(means|pairs)\.csv: .* and the values give /,
        (parts) => {
          const id = /\n(\d+),[^\n]+\n$/.exec(String(parts.get('tables/runs.csv')))?.[1] as string;
          for (const table of ['runs', 'sensors', 'steps', 'times', 'findings', 'files'])
            parts.set(
              `tables/${table}.csv`,
              Buffer.from(
                String(parts.get(`tables/${table}.csv`))
                  .split('\n')
                  .filter((line) => !line.startsWith(`${id},`))
                  .join('\n'),
              ),
            );
          const document = JSON.parse(String(parts.get('study.json')));
          document.runs = document.runs.filter((r: { id: number }) => r.id !== Number(id));
          parts.set('study.json', Buffer.from(JSON.stringify(document)));
          const descriptor = JSON.parse(String(parts.get('datapackage.json')));
          descriptor.resources = descriptor.resources.filter((r: { path: string }) => !r.path.startsWith(`logs/${id}/`));
          parts.set('datapackage.json', Buffer.from(JSON.stringify(descriptor)));
          for (const name of [...parts.keys()]) if (name.startsWith(`logs/${id}/`)) parts.delete(name);
        },
      ],
      [
        'the confidence',
        /^(study\.json: comparison\.confidence is 0\.95, and .* give 0\.9\.|tables\/pairs\.csv: .* ci_low is .*, and the values give )/,
        (parts) =>
          edit(parts, 'study.json', (text) => text.replace('"confidence": 0.95,\n  "created_at"', '"confidence": 0.9,\n  "created_at"')),
      ],
      [
        'how a run was read',
        /^tables\/runs\.csv: Run \d+ \(.*\), (rise_k|se_k|window_start_s) is .*, and its logs give /,
        (parts) =>
          edit(parts, 'study.json', (text) => {
            const document = JSON.parse(text);
            document.runs[0].options.window_s = 30;
            return JSON.stringify(document);
          }),
      ],
      [
        'a photograph that was exchanged',
        /^photographs\/\d+\.jpg: its (red|green|blue|width|SHA-256) is .*, and tables\/photographs\.csv says /,
        async (parts) => {
          const name = [...parts.keys()].find((n) => n.startsWith('photographs/')) as string;
          const { width = 1, height = 1 } = await sharp(parts.get(name)).metadata();
          parts.set(
            name,
            await sharp({ create: { width, height, channels: 3, background: '#a04020' } })
              .jpeg()
              .toBuffer(),
          );
        },
      ],
      [
        'the unit of a column',
        /^tables\/runs\.csv: rise_k is said to be in Cel, and is in K\.$/,
        (parts) => edit(parts, 'datapackage.json', (text) => text.replace(/("name": ?"rise_k",[^}]*"unit": ?)"K"/, '$1"Cel"')),
      ],
      [
        'a reading in the samples',
        /^samples\/\d+\.csv\.gz: its readings are not those of the logs of Run \d+ /,
        (parts) => {
          const name = [...parts.keys()].find((n) => n.startsWith('samples/')) as string;
          const lines = String(gunzipSync(parts.get(name) as Buffer)).split('\n');
          lines[40] = lines[40].replace(/\.(\d)/g, (_, digit) => `.${(Number(digit) + 1) % 10}`);
          parts.set(name, gzipSync(lines.join('\n')));
        },
      ],
      [
        'samples that go on',
        /^samples\/\d+\.csv\.gz: its readings are not those of the logs of Run \d+ /,
        (parts) => {
          const name = [...parts.keys()].find((n) => n.startsWith('samples/')) as string;
          parts.set(name, Buffer.concat([parts.get(name) as Buffer, gzipSync(Buffer.alloc(50_000_000))]));
        },
      ],
      [
        'when a run began',
        /^tables\/runs\.csv: Run \d+ \(.*\), started_at is .*, and its logs give /,
        (parts) =>
          editCell(parts, 'runs', 'started_at', (cell) => cell.replace(/:(\d)(\d)\./, (_, a, b) => `:${a}${(Number(b) + 1) % 10}.`), isRow),
      ],
      [
        'the bench day of a run',
        /^tables\/runs\.csv: Run \d+ \(.*\), day is .*, and it began /,
        // a day before or after may be that of another zone
        (parts) => editCell(parts, 'runs', 'day', (cell) => new Date(Date.parse(cell) + 2 * 86_400_000).toISOString().slice(0, 10), isRow),
      ],
      [
        'a reference into nothing',
        /^tables\/runs\.csv: line \d+, mount_id: mounts has no 99999\.$/,
        (parts) => editCell(parts, 'runs', 'mount_id', () => '99999', isRow),
      ],
    ];
    for (const hides of [false, true])
      it.each(changes)(`tells of it: %s${hides ? ', with all hashes made to fit' : ''}`, async (what, line, change) => {
        const parts = await partsOf(whole);
        await change(parts);
        const { differences } = await verified(await packed(parts, hides));
        expect(differences.filter((d) => line.test(d)).length).toBeGreaterThan(0);
        const told = differences.filter((d) => /: its hash is |: it has \d+ bytes|SHA-256 is/.test(d));
        if (hides) expect(told).toEqual([]);
        // datapackage.json itself has no hash within the package
        else if (what !== 'the unit of a column') expect(told.length).toBeGreaterThan(0);
      });
  });

  it('may be without photographs, and says so', async () => {
    const file = path.join(folder, 'without.zip');
    writeFileSync(file, await fetched(photographed, '?photographs=no'));
    const { differences, unchecked } = await verified(file);
    expect(differences).toEqual([]);
    expect(unchecked).toEqual([expect.stringMatching(/^\d+ photographs?: left out of the package\.$/)]);
  });

  it('is refused where it is none', async () => {
    const file = path.join(folder, 'none.zip');
    const refused = async (bytes: Buffer, words: string | RegExp) => {
      writeFileSync(file, bytes);
      await expect(verified(file)).rejects.toThrow(words);
    };
    await refused(Buffer.from('Time,Die 1\n'), 'cannot be read as a package');
    const whole = await fetched(1);
    await refused(whole.subarray(0, whole.length / 2), 'cannot be read as a package');
    const zipOf = async (...names: [string, string][]) => {
      const zip = new yazl.ZipFile();
      for (const [name, text] of names) zip.addBuffer(Buffer.from(text), name);
      zip.end();
      return buffer(zip.outputStream as never);
    };
    await refused(await zipOf(['a.txt', 'a']), 'datapackage.json is missing');
    await refused(await zipOf(['datapackage.json', '{']), 'datapackage.json is no JSON');
    await refused(await zipOf(['datapackage.json', '{"resources":[{"path":1}]}']), 'does not list resources');
    await refused(await zipOf(['datapackage.json', '{"resources":[]}']), 'study.json is missing');
    await refused(
      await zipOf(['datapackage.json', '{"resources":[]}'], ['study.json', '{"format":"warm-gauge-study","version":9}']),
      'A newer version',
    );
    // a name that leads out of the package
    const away = await zipOf(['datapackage.json', '{"resources":[]}'], ['xx/xx/leave.txt', 'x']);
    await refused(
      Buffer.from(away.toString('latin1').replaceAll('xx/xx/leave.txt', '../../leave.txt'), 'latin1'),
      /cannot be read as a package: invalid relative path/,
    );
    expect((await fetch(`${app.url}/api/studies/99999/package`)).status).toBe(404);
  });
});
