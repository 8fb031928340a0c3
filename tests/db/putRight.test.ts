import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { listChanges } from '#app/database/changes';
import { database } from '#app/database/pool';
import { beginMount } from '#features/mount/server/mountSheet';
import { ImportPlan } from '#features/run/model/importPlan';
import { climbView, saveSteps } from '#features/run/server/climb';
import { importRun } from '#features/run/server/importRun';
import { moveRun } from '#features/run/server/moveRun';
import { storeTable } from '#features/run/server/typedTable';
import { getRun, listRuns } from '#features/run/store/runs';
import { saveRigParts } from '#features/shelf/server/rigParts';
import { createSheet, listShelf, sheetView } from '#features/shelf/server/sheets';
import { listSpecimens } from '#features/study/store/studies';
import { check } from '#rules/validation';
import { onFreshDatabase } from '../database.ts';

const logs = new URL('../reference/logs/', import.meta.url);
const file = (name: string) => ({ name, bytes: new Uint8Array(readFileSync(new URL(name, logs))) });

onFreshDatabase();

describe('a run under the wrong mount', () => {
  it('is moved with its figures and its history, typed or logged, and refused where nothing is', async () => {
    const place = { study_title: 'Moved', specimen_name: 'Loam White', specimen_kind: 'paste', rig_name: 'Bench', rig_limit_c: 95 };
    const stored = await importRun(check(ImportPlan, { import_id: randomUUID(), reading: {}, place }), [file('plain.csv')]);
    const before = await getRun(database(), stored.run_id);
    const { id: mount } = await beginMount(stored.study_id, { specimen_name: 'Wick 60', rig_id: before?.rig_id, made: true });
    await expect(moveRun(stored.run_id, { mount_id: before?.mount_id })).rejects.toThrow('already belongs to this mount');
    await expect(moveRun(stored.run_id, { mount_id: 424242 })).rejects.toThrow('no longer exists');
    await expect(moveRun(stored.run_id, {})).rejects.toThrow('Choose a mount');
    await expect(moveRun(424242, { mount_id: mount })).rejects.toThrow('There is no run 424242.');
    await moveRun(stored.run_id, { mount_id: mount, reason: 'Wrong row', who: 'EB' });
    const after = await getRun(database(), stored.run_id);
    expect(after).toMatchObject({ specimen: 'Wick 60', mount: 1, number: 1, rise_k: before?.rise_k, files: ['plain.csv'] });
    expect(await listChanges(database(), 'run', stored.run_id)).toMatchObject([
      { action: 'move', who: 'EB', reason: 'Loam White, mount 1 → Wick 60, mount 1. Wrong row', before: { mount_id: before?.mount_id } },
    ]);
    // back again, and to a new mount
    const specimen = (await listSpecimens(database(), stored.study_id)).find((s) => s.name === 'Loam White');
    const again = await moveRun(stored.run_id, { specimen_id: specimen?.id, rig_id: before?.rig_id });
    expect(await getRun(database(), stored.run_id)).toMatchObject({ specimen: 'Loam White', mount: 2, mount_id: again.mount_id });
    const row = { import_id: randomUUID(), specimen: 'A', mount: 1, texts: { mean_c: '61.2', room_c: '21' }, throttled: 'unknown' };
    const table = await storeTable({ study_title: 'Typed', kind: 'paste', rig: 'Other bench', rows: [row] });
    const [typed] = await listRuns(database(), table.study_id);
    await moveRun(typed.id, { mount_id: again.mount_id });
    expect(await getRun(database(), typed.id)).toMatchObject({ study: 'Moved', specimen: 'Loam White', number: 2 });
    expect((await getRun(database(), typed.id))?.rise_k).toBeCloseTo(40.2, 9);
  });
});

describe('a climb', () => {
  it('is one run, however often a beginning is sent, and keeps what was corrected', async () => {
    const table = await storeTable({
      ...{ study_title: 'Climbs', kind: 'paste', rig: 'Ladder bench' },
      rows: [{ import_id: randomUUID(), specimen: 'A', mount: 1, texts: { mean_c: '60', room_c: '20' }, throttled: 'no' }],
    });
    const [{ mount_id }] = await listRuns(database(), table.study_id);
    const first = { load: 'Climb', import_id: randomUUID(), steps: [{ clock_mhz: 2000, end: 'passed' }] };
    await saveSteps(mount_id, first);
    const { climbs } = await saveSteps(mount_id, first);
    expect(climbs).toHaveLength(1);
    const [{ run_id }] = climbs;
    await saveSteps(mount_id, { ...first, run_id, import_id: randomUUID(), steps: [{ clock_mhz: 2050, end: 'hung', temperature: '80' }] });
    expect(await listChanges(database(), 'run', run_id)).toEqual([]);
    await saveSteps(mount_id, { ...first, run_id, import_id: randomUUID(), steps: [{ clock_mhz: 2050, end: 'failed' }] });
    expect((await listChanges(database(), 'run', run_id)).map((c) => c.action)).toEqual(['correct']);
    expect((await climbView(mount_id)).climbs[0].steps.map((s) => s.end)).toEqual(['passed', 'failed']);
    expect(await getRun(database(), run_id)).toMatchObject({ valid: true, rise_k: null });
    const take = (clock_mhz: number) =>
      saveSteps(mount_id, { ...first, run_id, import_id: randomUUID(), steps: [], taken_back: [{ clock_mhz }] });
    await take(2050);
    await expect(take(2000)).rejects.toThrow('The last step of a climb cannot be deleted');
    await expect(saveSteps(mount_id, { ...first, steps: [{ clock_mhz: 2000, end: 'exploded' }] })).rejects.toThrow(
      'A step passed, failed, hung',
    );
    await expect(saveSteps(424242, first)).rejects.toThrow('There is no mount 424242.');
  });
});

describe('parts of a rig', () => {
  it('are stored over the version they were read at, take their pieces, and hold their material on the shelf', async () => {
    const pad = await createSheet('materials', {
      name: 'Slip Felt 0.5',
      sheet: {
        kind: 'pad',
        pack_size: 1,
        pack_unit: 'sheets',
        packs: 1,
        sheet_length_mm: 60,
        sheet_width_mm: 40,
        cut_length_mm: 14,
        cut_width_mm: 12,
      },
    });
    const rig = await createSheet('rigs', { name: 'Two chips', sheet: {} });
    const { row } = await sheetView('rigs', rig);
    const parts = [{ name: 'Chip' }, { name: 'Memory', count: 4, material_id: pad }];
    await saveRigParts(rig, { base: row.version, parts });
    await expect(saveRigParts(rig, { base: row.version, parts })).rejects.toThrow('Someone else changed this rig');
    await expect(saveRigParts(rig, { base: row.version + 1, parts: [{ name: 'A' }, { name: 'a' }] })).rejects.toThrow('named twice');
    await expect(saveRigParts(rig, { base: row.version + 1, parts: [{ name: 'A', material_id: 424242 }] })).rejects.toThrow(
      'no longer on the shelf',
    );
    expect((await sheetView('materials', pad)).named).toBe(true);
    const left = async () => (await listShelf('materials')).find((m) => m.id === pad)?.stock?.left;
    // 13 pieces lie on the sheet both ways
    const whole = await left();
    const { study_id } = await storeTable({
      ...{ study_title: 'On chips', kind: 'paste', rig: 'Two chips' },
      rows: [1, 2].map((mount) => ({
        import_id: randomUUID(),
        specimen: 'A',
        mount,
        texts: { mean_c: '60', room_c: '20' },
        throttled: 'no',
      })),
    });
    expect(study_id).toBeGreaterThan(0);
    expect(await left()).toBe((whole ?? 0) - 8);
  });
});
