import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { listChanges } from '#app/database/changes';
import { database } from '#app/database/pool';
import { benchQueue } from '#features/bench/server/queue';
import { beginMount, mountSheet } from '#features/mount/server/mountSheet';
import { changeDraft, draftView } from '#features/report/server/draft';
import { freezeReport, frozenReport } from '#features/report/server/freeze';
import { ImportPlan } from '#features/run/model/importPlan';
import { binView, deleteThing, deletionView, eraseAll, eraseThing, restoreThing } from '#features/run/server/bin';
import { binSheet } from '#features/run/server/binSheet';
import { importRun } from '#features/run/server/importRun';
import { pinNote } from '#features/run/server/judge';
import { moveMount } from '#features/run/server/moveMount';
import { moveRun } from '#features/run/server/moveRun';
import { runOfFile } from '#features/run/server/runView';
import { storeTable } from '#features/run/server/typedTable';
import { getRun, listFindings, listRuns } from '#features/run/store/runs';
import { createSheet, saveSheet, sheetView } from '#features/shelf/server/sheets';
import { archiveStudy, copyStudy } from '#features/study/server/copyStudy';
import { getStudy, insertStudy, listMounts, listSpecimens, listStudies } from '#features/study/store/studies';
import { check } from '#rules/validation';
import { onFreshDatabase } from '../database.ts';
import { resultsOf } from '../resultsOf.ts';

onFreshDatabase();
const db = () => database();

let count = 0;
/** A study of two things, each on two mounts with two typed runs: 40 and 44 K over the room, or about. */
async function madeStudy(title = `Study ${++count}`) {
  const rows = ['Amber', 'Birch'].flatMap((specimen, s) =>
    [1, 2].flatMap((mount) =>
      [0, 1].map((run) => ({
        ...{ import_id: randomUUID(), specimen, mount, throttled: 'no' },
        texts: { mean_c: String(60 + 4 * s + 0.2 * mount + 0.1 * run), room_c: '20' },
      })),
    ),
  );
  const { study_id } = await storeTable({ study_title: title, kind: 'paste', rig: `Rig of ${title}`, rows });
  const [specimens, mounts, runs] = await Promise.all([
    listSpecimens(db(), study_id),
    listMounts(db(), study_id),
    listRuns(db(), study_id),
  ]);
  return { id: study_id, title, specimens, mounts, runs };
}
/** What is there of a study, by its names. */
const shape = async (id: number) => (await listRuns(db(), id)).map((r) => `${r.specimen} ${r.mount}.${r.number}`);
const logs = new URL('../reference/logs/', import.meta.url);
const file = (name: string) => ({ name, bytes: new Uint8Array(readFileSync(new URL(name, logs))) });
const imported = (study: number, specimen: number, rig: number, name: string, mount: number | null = null) =>
  importRun(
    check(ImportPlan, {
      import_id: randomUUID(),
      reading: {},
      place: { study_id: study, specimen_id: specimen, rig_id: rig, mount_id: mount },
    }),
    [file(name)],
  );

describe('the bin', () => {
  it('takes a study with all that it holds, and gives all of it back', async () => {
    const study = await madeStudy();
    const other = await madeStudy();
    const before = await shape(study.id);
    const verdict = (await resultsOf(study.id)).analysis?.pairs[0].difference;
    expect(await deletionView('study', study.id)).toEqual({ title: study.title, contents: '4 mounts and 8 runs' });
    const { bin } = await deleteThing({ kind: 'study', id: study.id, who: 'EB', reason: 'Wrong lab' });
    expect(await getStudy(db(), study.id)).toBeNull();
    expect(await shape(study.id)).toEqual([]);
    expect(await getRun(db(), study.runs[0].id)).toBeNull();
    await expect(mountSheet(study.mounts[0].id)).rejects.toThrow('There is no mount');
    expect((await listSpecimens(db())).map((s) => s.study_id)).not.toContain(study.id);
    expect((await listMounts(db())).map((m) => m.id)).not.toContain(study.mounts[0].id);
    expect(await shape(other.id)).toHaveLength(8);
    expect((await binView()).entries[0]).toMatchObject({
      kind: 'study',
      title: study.title,
      contents: '4 mounts and 8 runs',
      who: 'EB',
      reason: 'Wrong lab',
      days_left: 30,
    });
    await expect(deleteThing({ kind: 'study', id: study.id })).rejects.toThrow('it may have been deleted');
    // its title is free meanwhile, and what comes back gives way
    await madeStudy(study.title);
    await restoreThing(bin);
    expect((await getStudy(db(), study.id))?.title).toMatch(new RegExp(`^${study.title} \\(restored 20`));
    expect(await shape(study.id)).toEqual(before);
    expect((await resultsOf(study.id)).analysis?.pairs[0].difference).toBe(verdict);
    await expect(restoreThing(bin)).rejects.toThrow('no longer in the bin');
  });

  it('takes a specimen, a mount, a run and a note, each with what is below it', async () => {
    const { id, specimens, mounts, runs } = await madeStudy();
    const whole = await shape(id);
    await pinNote(runs[0].id, { at_s: 0, text: 'Draught from the door', who: 'EB' });
    const { rows } = await db().query('select id from run_notes where run_id = $1', [runs[0].id]);
    const note = await deleteThing({ kind: 'note', id: rows[0].id });
    expect(note.title).toMatch(/^Draught from the door \(Amber, mount 1, run 1\)$/);
    const run = await deleteThing({ kind: 'run', id: runs[0].id });
    const mount = await deleteThing({ kind: 'mount', id: mounts[0].id });
    const specimen = await deleteThing({ kind: 'specimen', id: specimens[0].id });
    expect(await shape(id)).toEqual(whole.slice(4));
    // what they belonged to comes first
    await expect(restoreThing(run.bin)).rejects.toThrow('belonged to is deleted too');
    await expect(restoreThing(mount.bin)).rejects.toThrow('belonged to is deleted too');
    await restoreThing(specimen.bin);
    expect(await shape(id)).toEqual(whole.slice(2));
    await restoreThing(mount.bin);
    expect(await shape(id)).toEqual(whole.slice(1));
    await expect(restoreThing(note.bin)).rejects.toThrow('belonged to is deleted too');
    await restoreThing(run.bin);
    await restoreThing(note.bin);
    expect(await shape(id)).toEqual(whole);
    expect((await listChanges(db(), 'run', runs[0].id)).map((c) => c.action)).toEqual(['delete', 'restore']);
    expect((await db().query('select text from run_notes where run_id = $1', [runs[0].id])).rows).toEqual([
      { text: 'Draught from the door' },
    ]);
  });

  it('gives numbers and names that were taken meanwhile to nobody twice', async () => {
    const { id, specimens, mounts, runs } = await madeStudy();
    const second = await deleteThing({ kind: 'mount', id: mounts[1].id });
    await moveMount(mounts[0].id, { specimen_id: specimens[0].id, rig_id: mounts[0].rig_id, number: 2 });
    await restoreThing(second.bin);
    expect((await listMounts(db(), id)).filter((m) => m.specimen_id === specimens[0].id).map((m) => [m.id, m.number])).toEqual([
      [mounts[0].id, 2],
      [mounts[1].id, 3],
    ]);
    const first = await deleteThing({ kind: 'run', id: runs[0].id });
    await moveRun(runs[4].id, { mount_id: mounts[0].id });
    await restoreThing(first.bin);
    expect(new Set((await listRuns(db(), id)).filter((r) => r.mount_id === mounts[0].id).map((r) => r.number)).size).toBe(3);
  });

  it('takes a try and the draft of a report; a mount begun by mistake goes whole', async () => {
    const { id, specimens, mounts } = await madeStudy();
    const { id: begun } = await beginMount(id, { specimen_id: specimens[0].id, rig_id: mounts[0].rig_id });
    const { current } = await mountSheet(begun);
    const tried = await deleteThing({ kind: 'try', id: current?.id });
    expect((await mountSheet(begun)).current).toBeNull();
    await restoreThing(tried.bin);
    expect((await mountSheet(begun)).current?.id).toBe(current?.id);
    const mistake = await deleteThing({ kind: 'mount', id: begun, reason: 'begun by mistake' });
    expect(mistake.title).toBe('Amber, mount 3');
    expect(await listMounts(db(), id)).toHaveLength(4);
    const draft = await draftView(id);
    const words = draft.sections.map((s, i) => (i === 0 ? { ...s, words: 'Read this first.' } : s));
    await changeDraft(id, { sections: words, version: draft.version });
    const gone = await deleteThing({ kind: 'draft', id });
    expect(await draftView(id)).toEqual(draft);
    await restoreThing(gone.bin);
    expect((await draftView(id)).sections[0]).toMatchObject({ words: 'Read this first.' });
  });

  it('hides what was published of a study while that lies in it', async () => {
    const { id, title } = await madeStudy();
    const { address } = await freezeReport(id, { who: 'EB' });
    expect((await deletionView('study', id)).contents).toBe('4 mounts, 8 runs and 1 published report');
    const { bin } = await deleteThing({ kind: 'study', id });
    await expect(frozenReport(address)).rejects.toThrow('no report at this address');
    await restoreThing(bin);
    expect((await frozenReport(address)).content.title).toBe(title);
  });

  it('is emptied one by one, whole, and of what lies there for thirty days', async () => {
    const old = await madeStudy();
    const young = await madeStudy();
    await eraseAll();
    const a = await deleteThing({ kind: 'study', id: old.id });
    await db().query(`update bin set deleted_at = now() - interval '29 days 23 hours' where id = $1`, [a.bin]);
    const b = await deleteThing({ kind: 'run', id: young.runs[0].id });
    expect((await binView()).entries.map((e) => [e.kind, e.days_left])).toEqual([
      ['run', 30],
      ['study', 1],
    ]);
    await db().query(`update bin set deleted_at = now() - interval '30 days 1 hour' where id = $1`, [a.bin]);
    await deleteThing({ kind: 'run', id: young.runs[1].id });
    expect((await binView()).entries.map((e) => e.kind)).toEqual(['run', 'run']);
    expect((await db().query('select from all_studies where id = $1', [old.id])).rowCount).toBe(0);
    expect((await db().query('select from all_runs where id = $1', [old.runs[0].id])).rowCount).toBe(0);
    await eraseThing(b.bin);
    await expect(restoreThing(b.bin)).rejects.toThrow('no longer in the bin');
    // a mount that goes for good takes the entries of its runs along
    await deleteThing({ kind: 'mount', id: young.mounts[0].id });
    const { entries } = await binView();
    await eraseThing(entries[0].id);
    expect((await binView()).total).toBe(0);
    expect(await eraseAll()).toEqual({ erased: 0 });
    expect(await shape(young.id)).toHaveLength(6);
  });

  it('keeps the files of its runs, and says where a file lies that comes again', async () => {
    const { id, specimens, mounts } = await madeStudy();
    const stored = await imported(id, specimens[0].id, mounts[0].rig_id, 'plain.csv');
    const { rows } = await db().query<{ sha: string }>(`select encode(sha256, 'hex') as sha from run_files where run_id = $1`, [
      stored.run_id,
    ]);
    const { bin } = await deleteThing({ kind: 'run', id: stored.run_id });
    expect(await runOfFile(rows[0].sha)).toEqual({ run_id: null, bin, run: 'Amber, mount 3, run 1' });
    await expect(imported(id, specimens[1].id, mounts[0].rig_id, 'plain.csv')).rejects.toThrow(
      'belongs to a run in the bin, Amber, mount 3, run 1',
    );
    await restoreThing(bin);
    expect((await getRun(db(), stored.run_id))?.files).toEqual(['plain.csv']);
    const again = await deleteThing({ kind: 'run', id: stored.run_id });
    await eraseThing(again.bin);
    expect((await db().query(`select from log_files where encode(sha256, 'hex') = $1`, [rows[0].sha])).rowCount).toBe(0);
    await imported(id, specimens[1].id, mounts[0].rig_id, 'plain.csv');
  });

  it('refuses what it does not know', async () => {
    await expect(deleteThing({ kind: 'rig', id: 1 })).rejects.toThrow('Say what is deleted');
    await expect(deleteThing({ kind: 'run', id: 424242 })).rejects.toThrow('There is no run 424242');
    await expect(deletionView('rig', 1)).rejects.toThrow('Say what is to be deleted');
    await expect(deletionView('sheet', 1)).rejects.toThrow('There is no sheet 1');
  });
});

describe('what a run starts like', () => {
  it('is judged against the first run of its mount there is now', async () => {
    const { id, specimens, mounts } = await madeStudy();
    const cold = await imported(id, specimens[0].id, mounts[0].rig_id, 'over_midnight.csv');
    const warm = await imported(id, specimens[0].id, mounts[0].rig_id, 'fahrenheit.csv', cold.mount_id);
    const codes = async () => (await listFindings(db(), warm.run_id)).map((f) => f.code);
    expect(await codes()).toContain('started_colder');
    const { bin } = await deleteThing({ kind: 'run', id: cold.run_id });
    expect(await codes()).not.toContain('started_colder');
    expect((await listChanges(db(), 'run', warm.run_id)).at(-1)).toMatchObject({ action: 'reread' });
    await restoreThing(bin);
    expect(await codes()).toContain('started_colder');
    await moveRun(cold.run_id, { specimen_id: specimens[1].id, rig_id: mounts[0].rig_id });
    expect(await codes()).not.toContain('started_colder');
  });
});

describe('a mount under the wrong specimen or rig', () => {
  it('is moved with its runs, read anew as they are asked for there, and moved back', async () => {
    const { id, specimens, mounts } = await madeStudy();
    const rig = await createSheet('rigs', { name: 'Low limit', sheet: { throttle_limit_c: 60.5 } });
    const stored = await imported(id, specimens[0].id, mounts[0].rig_id, 'gaps.csv');
    const before = await getRun(db(), stored.run_id);
    const moved = await moveMount(stored.mount_id, { specimen_id: specimens[1].id, rig_id: rig, who: 'EB', reason: 'Wrong label' });
    expect(moved).toMatchObject({ study_id: id, number: 3, was: { specimen_id: specimens[0].id, rig_id: mounts[0].rig_id, number: 3 } });
    const there = await getRun(db(), stored.run_id);
    expect(there).toMatchObject({ specimen: 'Birch', mount: 3, rig: 'Low limit' });
    expect(there?.options).toMatchObject({ limit_c: 60.5 });
    expect(await listChanges(db(), 'mount', stored.mount_id)).toMatchObject([
      { action: 'move', who: 'EB', reason: expect.stringMatching(/^Amber, mount 3, .* → Birch, mount 3, Low limit\. Wrong label$/) },
    ]);
    expect((await listChanges(db(), 'run', stored.run_id)).map((c) => c.action)).toEqual(['reread']);
    await moveMount(stored.mount_id, moved.was);
    expect(await getRun(db(), stored.run_id)).toMatchObject({ specimen: 'Amber', rise_k: before?.rise_k, valid: before?.valid });
    // a number that is taken there gives way
    expect((await moveMount(mounts[0].id, { specimen_id: specimens[1].id, rig_id: mounts[0].rig_id })).number).toBe(3);
    await expect(moveMount(mounts[0].id, { specimen_id: specimens[1].id, rig_id: mounts[0].rig_id })).rejects.toThrow('already there');
    await expect(moveMount(424242, { specimen_id: 1, rig_id: 1 })).rejects.toThrow('There is no mount');
    await expect(moveMount(mounts[0].id, { specimen_id: 424242, rig_id: rig })).rejects.toThrow('specimen no longer exists');
    await expect(moveMount(mounts[0].id, { specimen_id: specimens[0].id, rig_id: 424242 })).rejects.toThrow('rig no longer exists');
  });

  it('goes to another study, and its runs forget a load that is not named there', async () => {
    const from = await madeStudy();
    const to = await madeStudy();
    await db().query(`update runs set load = 'Render' where mount_id = $1`, [from.mounts[0].id]);
    await moveMount(from.mounts[0].id, { specimen_id: to.specimens[0].id, rig_id: from.mounts[0].rig_id });
    expect(await shape(from.id)).toHaveLength(6);
    expect(await shape(to.id)).toHaveLength(10);
    expect((await listRuns(db(), to.id)).map((r) => r.load)).toEqual(Array(10).fill(null));
  });
});

describe('a study', () => {
  it('is copied without its data, with its reference and under a free title', async () => {
    const { id, title } = await madeStudy();
    await db().query('update studies set reference_id = (select id from specimens where study_id = $1 and position = 1) where id = $1', [
      id,
    ]);
    const copy = await copyStudy(id, {});
    expect(copy.title).toBe(`${title} (copy)`);
    expect((await copyStudy(id, {})).title).toBe(`${title} (copy 2)`);
    const specimens = await listSpecimens(db(), copy.id);
    expect(specimens.map((s) => [s.name, s.kind, s.position])).toEqual([
      ['Amber', 'paste', 0],
      ['Birch', 'paste', 1],
    ]);
    expect((await getStudy(db(), copy.id))?.reference_id).toBe(specimens[1].id);
    expect(await shape(copy.id)).toEqual([]);
    await expect(copyStudy(id, { title })).rejects.toThrow('already a study');
    await expect(copyStudy(424242, {})).rejects.toThrow('There is no study');
  });

  it('is archived out of the queue of the bench, and taken up again', async () => {
    const { id } = await madeStudy();
    const { archived } = await archiveStudy(id, { archived: true });
    expect(archived).toBe(true);
    expect((await listStudies(db())).find((s) => s.id === id)?.archived_at).toBeInstanceOf(Date);
    expect((await benchQueue()).map((q) => q.study_id)).not.toContain(id);
    await archiveStudy(id, { archived: false });
    expect((await getStudy(db(), id))?.archived_at).toBeNull();
    await expect(archiveStudy(id, {})).rejects.toThrow('Say whether');
    await expect(archiveStudy(424242, { archived: true })).rejects.toThrow('There is no study');
  });
});

describe('a sheet of the shelf that nothing uses', () => {
  it('is deleted into the bin and comes back as it was, under another name where its own was taken', async () => {
    const amber = await createSheet('materials', { name: 'Amber Nine', sheet: { kind: 'paste', conductivity: 8.5 } });
    const before = (await sheetView('materials', amber)).row;
    const { bin } = await binSheet('materials', amber);
    await expect(sheetView('materials', amber)).rejects.toMatchObject({ status: 404 });
    expect((await binView()).entries[0]).toMatchObject({ kind: 'sheet', title: 'Amber Nine', days_left: 30 });
    expect(await restoreThing(bin as number)).toMatchObject({ kind: 'sheet', title: 'Amber Nine' });
    expect((await sheetView('materials', amber)).row).toEqual(before);
    const again = await binSheet('materials', amber);
    await createSheet('materials', { name: 'Amber Nine', sheet: { kind: 'pad' } });
    await restoreThing(again.bin as number);
    expect((await sheetView('materials', amber)).row.name).toBe(`Amber Nine (restored ${amber})`);
    await expect(binSheet('materials', 424_242)).rejects.toThrow('There is no material 424242 on the shelf.');
  });

  it('is archived instead where photographs rest on it', async () => {
    const rig = await createSheet('rigs', { name: 'Photographed bench', sheet: {} });
    await db().query(`insert into photographs (rig_id, jpeg, width, height) values ($1, '\\xff', 1, 1)`, [rig]);
    expect(await binSheet('rigs', rig)).toMatchObject({ archived: true, bin: null });
  });
});

describe('a name on the shelf', () => {
  it('is carried to the specimens that go by it, and a sheet in the bin is not lost', async () => {
    const amber = await createSheet('materials', { name: 'Amber Seven', sheet: { kind: 'paste' } });
    const study = (await insertStudy(db(), { title: 'Names', question: '', margin_k: 1, reduction: {} })) as number;
    for (const name of ['Amber Seven', 'Amber Seven, thick'])
      await db().query('insert into specimens (study_id, name, kind, position, material_id) values ($1, $2, $3, $4, $5)', [
        study,
        name,
        'paste',
        name.length,
        amber,
      ]);
    const { row } = await sheetView('materials', amber);
    await saveSheet('materials', amber, { name: 'Amber 7', sheet: { kind: 'paste' }, version: row.version });
    expect((await listSpecimens(db(), study)).map((s) => s.name)).toEqual(['Amber 7', 'Amber Seven, thick']);
    const { bin } = await deleteThing({ kind: 'study', id: study });
    expect(await binSheet('materials', amber)).toMatchObject({ archived: true, bin: null });
    await restoreThing(bin);
    expect(await listSpecimens(db(), study)).toHaveLength(2);
  });
});
