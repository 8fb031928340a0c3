import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { buffer } from 'node:stream/consumers';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import yauzl from 'yauzl';
import { database } from '#app/database/pool';
import { openPackage, PackageError } from '#features/exchange/server/openPackage';
import { verifyPackage } from '#features/exchange/server/verifyPackage';
import { writePackage } from '#features/exchange/server/writePackage';
import { onFreshDatabase } from '../database.ts';
import { CHANGED_PACKAGES, changedPackages, oddStudy } from './changedPackages.ts';

onFreshDatabase();
const folder = mkdtempSync(path.join(tmpdir(), 'package-'));
const file = path.join(folder, 'study.zip');
afterAll(() => rmSync(folder, { recursive: true }));

async function verified(at: string) {
  const opened = await openPackage(at);
  try {
    return await verifyPackage(opened);
  } finally {
    opened.close();
  }
}

let whole: Buffer;
let study: number;
beforeAll(async () => {
  study = await oddStudy();
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

describe('packages that were changed at random', () => {
  it('are each told of or refused in words, and no file is written', async () => {
    const changed = path.join(folder, 'changed.zip');
    const unheard: string[] = [];
    const wordless: string[] = [];
    for await (const { bytes, kind } of changedPackages(whole, CHANGED_PACKAGES)) {
      writeFileSync(changed, bytes);
      try {
        const { differences } = await verified(changed);
        if (differences.length === 0) unheard.push(kind);
      } catch (error) {
        if (!(error instanceof PackageError)) wordless.push(`${kind}: ${error instanceof Error ? error.stack?.slice(0, 300) : error}`);
      }
    }
    expect(wordless).toEqual([]);
    // what only tells the reader something (a title, a description) may be another; and bytes of the ZIP that say nothing
    expect(unheard.filter((kind) => kind !== 'document' && kind !== 'bytes')).toEqual([]);
    expect(unheard.length).toBeLessThan(0.12 * CHANGED_PACKAGES);
    expect(readdirSync(folder).sort()).toEqual(['changed.zip', 'study.zip']);
  });
});
