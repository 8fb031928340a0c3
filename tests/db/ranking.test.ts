import { createHash, randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { buffer } from 'node:stream/consumers';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { closeDatabase, database } from '#app/database/pool';
import { execute, many, only } from '#app/database/query';
import { seededRandom } from '#core/stats/random';
import { importPackage } from '#features/exchange/server/importPackage';
import { openPackage } from '#features/exchange/server/openPackage';
import { writePackage } from '#features/exchange/server/writePackage';
import type { RankingChoice } from '#features/ranking/model/rankingRows';
import { changeSetups } from '#features/ranking/server/changeSetups';
import { labsPlace } from '#features/ranking/server/labsPlace';
import { materialPlace } from '#features/ranking/server/materialPlace';
import { askNext, planNext } from '#features/ranking/server/nextStudy';
import { partCalculator } from '#features/ranking/server/partCalculator';
import { rankedDifference, rankingPlace, someAgainstOthers } from '#features/ranking/server/rankingPlace';
import { storeTable } from '#features/run/server/typedTable';
import { createSheet, listShelf, saveSheet } from '#features/shelf/server/sheets';
import { freshDatabase, onFreshDatabase } from '../database.ts';

const home = onFreshDatabase();
const folder = mkdtempSync(path.join(tmpdir(), 'ranking-'));
const CHOICE: RankingChoice = { reference: null, lots: 'apart', labs: 'own', years: null };

/** A study of pastes by their readings: resistances from die to room in K/W at 80 W, three mounts of each. */
async function study(title: string, rig: string, wholes: Record<string, number>, seed: number, more: object = {}): Promise<number> {
  const random = seededRandom(seed);
  const stored = await storeTable({
    ...{ study_title: title, kind: 'paste', rig },
    rows: Object.entries(wholes).flatMap(([specimen, whole]) =>
      [1, 2, 3].map((mount) => ({
        ...{ import_id: randomUUID(), specimen, mount, read_at: `2026-03-1${mount}T09:00:00Z`, ...more },
        texts: { mean_c: (22 + 80 * (whole + 0.002 * random.normal())).toFixed(2), room_c: '22.00', power_w: '80.0' },
      })),
    ),
  });
  return stored.study_id;
}
const rig = (name: string, contact: object = { contact_length_mm: 20, contact_width_mm: 15 }) =>
  createSheet('rigs', { name, sheet: { contact: 'lid', ...contact } });

let first: number;
beforeAll(async () => {
  for (const name of ['Sled', 'Mast', 'Raft']) await rig(name);
  await rig('No size', {});
  first = await study('One', 'Sled', { Ash: 0.4, Birch: 0.36, Cedar: 0.45 }, 1);
  await study('Two', 'Mast', { Ash: 0.6, Birch: 0.565 }, 2);
  await study('Three', 'Raft', { Ash: 0.3, Cedar: 0.345 }, 3);
  await study('Four', 'No size', { Ash: 0.3, Birch: 0.25 }, 4);
});
afterAll(() => rmSync(folder, { recursive: true }));

const kept = async () => (await only<{ n: number }>(database())`select count(*) as n from kept_rankings`).n;

describe('a ranking of stored studies', () => {
  it('names what is left out and why, and computes nothing twice', async () => {
    const place = await rankingPlace(CHOICE);
    expect(place.answer).toMatchObject({ setups: 3, mounts: 21, df: 2 });
    expect(place.answer?.materials.map((m) => m.name)).toEqual(['Birch', 'Ash', 'Cedar']);
    const four = place.setups.find((s) => s.rig === 'No size');
    expect(four?.counts).toBe(false);
    const before = await kept();
    expect((await rankingPlace(CHOICE)).answer).toEqual(place.answer);
    expect(await kept()).toBe(before);
    // another question is another answer, which is kept too, with the place around it
    await rankingPlace({ ...CHOICE, reference: 'n:cedar' });
    expect(await kept()).toBe(before + 2);
    expect(four?.left_out).toEqual([
      { name: 'Ash', mounts: 3, why: 'its rig’s sheet does not state the size of the contact' },
      { name: 'Birch', mounts: 3, why: 'its rig’s sheet does not state the size of the contact' },
    ]);
  });

  it('tells a pair whichever way round, and a material by itself', async () => {
    const [ab, ba] = [await rankedDifference(CHOICE, 'n:birch', 'n:cedar'), await rankedDifference(CHOICE, 'n:cedar', 'n:birch')];
    expect(ab.difference).toBeCloseTo(-ba.difference, 9);
    expect(ab.shown95?.[0]).toBeCloseTo(-(ba.shown95?.[1] ?? 0), 9);
    await expect(rankedDifference(CHOICE, 'n:birch', 'n:gone')).rejects.toThrow('not in the ranking');
    const cedar = await materialPlace(CHOICE, 'n:cedar');
    expect(cedar.setups.map((s) => [s.name, s.mounts])).toEqual([
      ['Sled', 3],
      ['Raft', 3],
    ]);
    // lifted to one level, its mounts lie around its difference
    const mean = cedar.mounts.reduce((sum, m) => sum + m.value, 0) / cedar.mounts.length;
    expect(mean).toBeCloseTo(cedar.material.difference, 0);
    await expect(materialPlace(CHOICE, 'n:gone')).rejects.toThrow('not in this ranking');
    const { told, parts } = await someAgainstOthers(CHOICE, 0);
    expect(parts).toBe(1);
    expect(told.every((t) => t.p_adjusted >= t.p)).toBe(true);
  });

  it('is carried into a report from three set-ups on, and only of the materials that it has', async () => {
    const part = await partCalculator(first);
    expect(part?.materials).toEqual(['Birch', 'Ash', 'Cedar']);
    expect(part?.pairs).toHaveLength(3);
    expect(part?.measured).toEqual([{ area_mm2: 300, contact: 'lid', pressure: null }]);
  });

  it('refuses to merge what is one, what is gone, and what it was not given a reason for', async () => {
    const { setups } = await rankingPlace(CHOICE);
    const [sled, mast] = setups.map((s) => s.places[0].key);
    await expect(changeSetups({ kind: 'together', places: [sled], reason: 'x' })).rejects.toThrow('one set-up already');
    await expect(changeSetups({ kind: 'apart', places: [sled], reason: 'x' })).rejects.toThrow('some, but not all');
    await expect(changeSetups({ kind: 'together', places: [sled, '9/9/9/'], reason: 'x' })).rejects.toThrow('Reload the page');
    await expect(changeSetups({ kind: 'together', places: [sled, mast], reason: '   ' })).rejects.toThrow('reason');
    await expect(changeSetups({ kind: 'joined', places: [sled, mast], reason: 'x' })).rejects.toThrow('merged or split');
  });

  it('proposes what fits, refuses what does not, and plans what it proposed', async () => {
    const asked = { hours: 40, hours_per_mount: 2, mounts: 3, candidates: [] };
    const { studies } = await askNext(CHOICE, asked);
    expect(studies.length).toBeGreaterThan(0);
    for (const s of studies) expect(s.after).toBeLessThan(s.before);
    await expect(askNext(CHOICE, { ...asked, hours: 11.9 })).rejects.toThrow('take 12 h');
    await expect(askNext(CHOICE, { ...asked, candidates: ['n:ash'] })).rejects.toThrow('two materials or more');
    await expect(askNext(CHOICE, { ...asked, candidates: ['n:ash', 'n:gone'] })).rejects.toThrow('Reload');
    const [best] = studies;
    const one = await planNext(CHOICE, { setup: best.setup, materials: best.materials, mounts: 3 });
    const again = await planNext(CHOICE, { setup: best.setup, materials: best.materials, mounts: 3 });
    const titles = await many<{ title: string }>(
      database(),
    )`select title from studies where id = any (${[one.id, again.id]}::bigint[]) order by id`;
    expect(titles[1].title).toBe(`${titles[0].title} (2)`);
    await expect(planNext(CHOICE, { setup: 'rig 999', materials: best.materials, mounts: 3 })).rejects.toThrow('no longer exists');
  });

  it('keeps what was edited on the shelf, and when, but not where an instrument is reached', async () => {
    const sled = (await listShelf('rigs')).find((r) => r.name === 'Sled');
    await saveSheet('rigs', sled?.id ?? 0, { name: 'Sled', sheet: { ...sled?.sheet, torque_max_nm: 0.7 }, version: sled?.version });
    const scanner = await createSheet('instruments', { name: 'Scanner', sheet: {} });
    await execute(database())`update instruments set sheet = jsonb_set(sheet, '{address}', '"tcp://127.0.0.1:5025"') where id = ${scanner}`;
    const edits = await many<{ section: string; before: object; after: object }>(
      database(),
    )`select section, before, after from sheet_changes`;
    expect(edits).toEqual([{ section: 'rigs', before: {}, after: { torque_max_nm: 0.7 } }]);
  });
});

describe('studies of another lab', () => {
  it('are set-ups of theirs: with and without them, and the labs beside each other', async () => {
    await closeDatabase();
    const away = await freshDatabase();
    process.env.DATABASE_URL = away.url;
    await rig('Their bench');
    const theirs = await study('Theirs', 'Their bench', { Ash: 0.5, Birch: 0.4, Cedar: 0.55 }, 9);
    const bytes = await buffer((await writePackage(theirs)).stream);
    await closeDatabase();
    process.env.DATABASE_URL = home.url();
    const file = path.join(folder, 'theirs.zip');
    writeFileSync(file, bytes);
    const opened = await openPackage(file);
    await importPackage(opened, { sha256: createHash('sha256').update(bytes).digest('hex') });
    opened.close();
    await away.drop();

    const [own, all] = [await rankingPlace(CHOICE), await rankingPlace({ ...CHOICE, labs: 'all' })];
    expect([own.answer?.setups, all.answer?.setups]).toEqual([3, 4]);
    expect(own.other_labs).toEqual(['another lab']);
    expect(all.setups.find((s) => s.lab !== null)?.name).toBe('Their bench, another lab');
    // 0.1 K/W over 300 mm² where this lab has 0.04: they disagree on birch, and not on cedar
    const labs = await labsPlace(CHOICE);
    expect(labs.labs.map((l) => [l.name, l.setups])).toEqual([
      ['This lab', 3],
      ['Another lab', 1],
    ]);
    const of = (name: string) => labs.shared.find((s) => s.name === name);
    expect(of('Birch')?.told.p).toBeLessThan(0.05);
    expect(of('Cedar')?.told.p).toBeGreaterThan(0.05);
    expect(of('Birch')?.told.reproducibility_sd ?? 0).toBeGreaterThan(of('Birch')?.told.repeatability_sd ?? 0);
    const their = all.setups.find((s) => s.lab !== null)?.places[0].key;
    const ours = all.setups.find((s) => s.lab === null)?.places[0].key;
    await expect(changeSetups({ kind: 'together', places: [their, ours], reason: 'the same bench' })).rejects.toThrow('different labs');
  });
});
