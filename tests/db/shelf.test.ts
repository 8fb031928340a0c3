import { describe, expect, it } from 'vitest';
import { database } from '#app/database/pool';
import { binSheet } from '#features/run/server/binSheet';
import {
  archiveSheet,
  createSheet,
  duplicateSheet,
  exportShelf,
  firstOfShelf,
  importShelf,
  listShelf,
  saveSheet,
  sheetView,
} from '#features/shelf/server/sheets';
import { getRigParts, getTeardown } from '#features/shelf/store/rigs';
import { listConductors } from '#features/shelf/store/sheets';
import { insertMount, insertSpecimen, insertStudy, linkSpecimen } from '#features/study/store/studies';
import { onFreshDatabase } from '../database.ts';

onFreshDatabase();

describe('the shelf in the store', () => {
  it('refuses a save over somebody else’s and gives theirs back', async () => {
    const id = await createSheet('materials', { name: 'Loam White', sheet: { kind: 'paste', price: 4 } });
    const mine = (await sheetView('materials', id)).row;
    await saveSheet('materials', id, { name: 'Loam White', sheet: { kind: 'paste', price: 5 }, version: mine.version });
    const late = saveSheet('materials', id, { name: 'Loam White', sheet: { kind: 'paste', price: 6 }, version: mine.version });
    await expect(late).rejects.toMatchObject({ status: 409, details: { theirs: { sheet: { price: 5 }, version: mine.version + 1 } } });
    expect((await sheetView('materials', id)).row.sheet).toEqual({ kind: 'paste', price: 5 });
  });

  it('names what is wrong with a sheet and stores nothing of it', async () => {
    await expect(createSheet('materials', { name: ' ', sheet: {} })).rejects.toThrow('The material needs a name of 1 to 80 characters.');
    await expect(createSheet('rigs', { name: 'Hot', sheet: { throttle_limit_c: 3 } })).rejects.toThrow(
      'Throttle limit should be between 30 and 300 °C.',
    );
    const [first] = await listShelf('materials');
    await expect(saveSheet('materials', first.id, { name: 'Loam White', sheet: {}, version: 'x' })).rejects.toThrow('Say which version');
    await expect(createSheet('materials', { name: 'Loam White' })).rejects.toMatchObject({ status: 409 });
    expect(await listShelf('rigs')).toEqual([]);
  });

  it('keeps what is used, counts its mounts and tells where', async () => {
    const material = await createSheet('materials', {
      name: 'Alder Grey',
      sheet: { kind: 'paste', pack_size: 1, pack_unit: 'g', per_mount: 0.25, packs: 1 },
    });
    const rig = await createSheet('rigs', { name: 'North bench', sheet: { throttle_limit_c: 92 } });
    const study = (await insertStudy(database(), { title: 'Use', question: '', margin_k: 1, reduction: {} })) ?? 0;
    const specimen = (await insertSpecimen(database(), study, 'Alder Grey', 'paste')) ?? 0;
    await linkSpecimen(database(), specimen, material, null);
    for (let i = 0; i < 3; i++) await insertMount(database(), specimen, rig, '');
    const view = await sheetView('materials', material);
    expect(view.row).toMatchObject({ mounts: 3, studies: 1, stock: { left: 1 } });
    expect(view.uses).toMatchObject([{ study: 'Use', specimen: 'Alder Grey', mounts: 3 }]);
    expect(await binSheet('materials', material)).toMatchObject({ archived: true, bin: null });
    expect(await binSheet('rigs', rig)).toMatchObject({ archived: true, bin: null });
    await archiveSheet('rigs', rig, false);
    expect((await sheetView('rigs', rig)).row).toMatchObject({ archived: false, mounts: 3 });
  });

  it('gives the stack those materials alone whose conductivity is known, with their thickness or bond line', async () => {
    const put = (name: string, sheet: object) => createSheet('materials', { name, sheet });
    await put('Layer of a sheet', { kind: 'pad', conductivity_w_per_mk: 6, thickness_mm: 0.5, bond_line_um: 20 });
    await put('Layer of a paste', { kind: 'paste', conductivity_w_per_mk: 8, bond_line_um: 40 });
    await put('Layer of no thickness', { kind: 'paste', conductivity_w_per_mk: 9 });
    await put('Layer unknown', { kind: 'paste' });
    expect((await listConductors(database())).filter((m) => m.name.startsWith('Layer'))).toEqual([
      { name: 'Layer of a paste', k: 8, thickness_mm: 0.04 },
      { name: 'Layer of a sheet', k: 6, thickness_mm: 0.5 },
      { name: 'Layer of no thickness', k: 9, thickness_mm: null },
    ]);
  });
  it('gives the first sheets at once and says whether there are more', async () => {
    const fan = (i: number) => createSheet('fans', { name: `Fan ${String(i).padStart(3, '0')}`, sheet: {} });
    const before = (await listShelf('fans')).length;
    for (let i = before; i < 60; i++) await fan(i);
    expect(await firstOfShelf('fans', 60)).toEqual({ rows: await listShelf('fans'), more: false });
    await fan(60);
    const first = await firstOfShelf('fans', 60);
    expect(first.more).toBe(true);
    expect(first.rows).toEqual((await listShelf('fans')).slice(0, 60));
  });
  it('deletes what nothing names, and copies under a free name', async () => {
    const fan = await createSheet('fans', { name: 'Gale 120', sheet: { size_mm: 120 } });
    const copy = await duplicateSheet('fans', fan);
    expect((await sheetView('fans', copy)).row).toMatchObject({ name: 'Gale 120 (2)', sheet: { size_mm: 120 } });
    const cooler = await createSheet('coolers', { name: 'Heron', sheet: { fans: [fan] } });
    expect(await binSheet('fans', copy)).toMatchObject({ archived: false });
    expect(await binSheet('fans', fan)).toMatchObject({ archived: true, bin: null });
    expect(await binSheet('coolers', cooler)).toMatchObject({ archived: false });
    await expect(sheetView('fans', copy)).rejects.toMatchObject({ status: 404 });
  });

  it('copies a rig with its parts and how it is taken apart', async () => {
    const rig = await createSheet('rigs', { name: 'Twin bench', sheet: { power_w: 90 } });
    const part = { name: 'Die', length_mm: 20, width_mm: 20, sensors: 'Die 1', limit_c: 95 };
    await database().query('update rigs set parts = $2, teardown = $3 where id = $1', [rig, JSON.stringify([part]), '[{"what":"Lid"}]']);
    const copy = await duplicateSheet('rigs', rig);
    expect(await getRigParts(database(), copy)).toMatchObject({ name: 'Twin bench (2)', parts: [part] });
    expect((await getTeardown(database(), copy))?.teardown).toEqual([{ what: 'Lid' }]);
    await database().query("update rigs set parts = '[]' where id = $1", [copy]);
    expect((await getRigParts(database(), rig))?.parts).toEqual([part]);
  });

  it('takes a file whole or not at all', async () => {
    const before = await exportShelf('instruments');
    await expect(importShelf('instruments', 'name,reads\nRoom thermometer A,temperature\nMeter,heat\n')).rejects.toThrow(/Row 3/);
    expect(await exportShelf('instruments')).toBe(before);
    expect(await importShelf('instruments', 'name,reads,resolution\nRoom thermometer A,temperature,0.01\n')).toEqual({
      added: 1,
      changed: 0,
    });
    expect(await importShelf('instruments', 'name,accuracy\nRoom thermometer A,0.1\nMeter,0.5\n')).toEqual({ added: 1, changed: 1 });
    const [, thermometer] = await listShelf('instruments');
    expect(thermometer.sheet).toEqual({ reads: 'temperature', resolution: 0.01, accuracy: 0.1 });
  });
});
