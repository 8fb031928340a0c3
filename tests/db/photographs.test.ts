import sharp from 'sharp';
import { beforeEach, describe, expect, it } from 'vitest';
import { database } from '#app/database/pool';
import type { ImprintFigures, ImprintReading } from '#features/mount/model/imprint';
import { effectWords } from '#features/mount/server/effectWords';
import { studyMountFindings } from '#features/mount/server/mountFacts';
import { mountGrid } from '#features/mount/server/mountGrid';
import { beginAttempt, mountSheet, saveStep } from '#features/mount/server/mountSheet';
import {
  picture,
  removePhotograph,
  savePhotograph,
  saveReading,
  saveRigPhotograph,
  storedPrint,
  studyPrints,
} from '#features/mount/server/photographs';
import { saveTeardown, teardownView } from '#features/mount/server/teardown';
import { insertRig } from '#features/shelf/store/rigs';
import { resolvePlan } from '#features/study/model/resolve';
import { planView } from '#features/study/server/planView';
import { insertMount, insertSpecimen, insertStudy, listSpecimens } from '#features/study/store/studies';
import { onFreshDatabase } from '../database.ts';

onFreshDatabase();

const READING: ImprintReading = {
  corners: [
    { x: 0.2, y: 0.2 },
    { x: 0.8, y: 0.2 },
    { x: 0.8, y: 0.8 },
    { x: 0.2, y: 0.8 },
  ],
  ...{ length_mm: 37, width_mm: 37, mirrored: false, face_goes_on: false, swapped: false, threshold: null },
};
const figures = (cover: number): ImprintFigures => ({
  ...{ cover, cover_low: cover - 0.01, cover_high: cover + 0.01, voids: 0.01, void_count: 2 },
  ...{ offset_x_mm: 0.4, offset_y_mm: -1, squeeze_out: null, glare: 0, corners: '' },
});

/** A picture 90 × 60, its left third dark, that a phone held upright would have marked to be turned, with the place of its taking. */
const phonePicture = () =>
  sharp({ create: { width: 90, height: 60, channels: 3, background: '#d0d0d0' } })
    .composite([{ input: { create: { width: 30, height: 60, channels: 3, background: '#202020' } }, left: 0, top: 0 }])
    .withExif({ IFD0: { Make: 'somebody', Software: 'some camera' }, IFD3: { GPSLatitudeRef: 'N', GPSLatitude: '51/1 30/1 0/1' } })
    .withMetadata({ orientation: 6 })
    .jpeg()
    .toBuffer();
const view = () =>
  sharp({ create: { width: 40, height: 40, channels: 3, background: '#0e9696' } })
    .jpeg()
    .toBuffer();

let study: number;
let rig: number;
let specimen: number;
const mountOf = async () => (await insertMount(database(), specimen, rig, '')).id;
beforeEach(async () => {
  const db = database();
  study = (await insertStudy(db, { title: `Prints ${Math.random()}`, question: '', margin_k: 1, reduction: {} })) as number;
  rig = (await insertRig(db, `Bench ${Math.random()}`, null)) as number;
  await insertSpecimen(db, study, 'Loam White', 'paste');
  specimen = (await listSpecimens(db, study))[0].id;
});

describe('a photograph of a mount', () => {
  it('is turned upright and keeps neither place nor device', async () => {
    const mount = await mountOf();
    const bytes = await phonePicture();
    const before = await sharp(bytes).metadata();
    expect(before.orientation).toBe(6);
    expect(bytes.includes('some camera')).toBe(true);
    const { id } = await savePhotograph(mount, bytes, { who: 'EB', caption: 'dry at one corner' }, null);
    const stored = await picture(id, 'photograph', false);
    const about = await sharp(stored).metadata();
    expect([about.width, about.height]).toEqual([60, 90]);
    expect(about.exif).toBeUndefined();
    expect(about.orientation).toBeUndefined();
    expect(stored.includes('some camera')).toBe(false);
    // what was left is up now
    const { data } = await sharp(stored).greyscale().raw().toBuffer({ resolveWithObject: true });
    expect(data[60 * 10 + 30]).toBeLessThan(60);
    expect(data[60 * 80 + 30]).toBeGreaterThan(180);
    expect((await mountSheet(mount)).photographs).toMatchObject([
      { id, caption: 'dry at one corner', who: 'EB', width: 60, height: 90, face: null },
    ]);
    expect((await sharp(await picture(id, 'photograph', true)).metadata()).height).toBe(90);
  });

  it('is refused with a sentence where it is none, broken off, too large, or has no mount', async () => {
    const mount = await mountOf();
    const text = new TextEncoder().encode('time,rise\n0,1\n');
    await expect(savePhotograph(mount, text, {}, null)).rejects.toThrow(/cannot be opened as a photograph; JPEG, PNG and WebP can/);
    const svg = new TextEncoder().encode('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><image href="/etc/passwd"/></svg>');
    await expect(savePhotograph(mount, svg, {}, null)).rejects.toThrow(/cannot be opened as a photograph/);
    const noise = Buffer.from(Uint8Array.from({ length: 3 * 200 * 200 }, (_, i) => (i * 7919) % 251));
    const whole = await sharp(noise, { raw: { width: 200, height: 200, channels: 3 } })
      .jpeg()
      .toBuffer();
    await expect(savePhotograph(mount, whole.subarray(0, whole.length >> 1), {}, null)).rejects.toThrow(/is incomplete/);
    await expect(savePhotograph(mount, new Uint8Array(30 * 1024 * 1024 + 1), {}, null)).rejects.toThrow(/up to 30 MB are taken/);
    const wide = await sharp({ create: { width: 10_000, height: 7000, channels: 3, background: '#fff' } })
      .png()
      .toBuffer();
    await expect(savePhotograph(mount, wide, {}, null)).rejects.toThrow(/more than 60 megapixels/);
    await expect(savePhotograph(4711, await view(), {}, null)).rejects.toThrow('There is no mount 4711.');
    await expect(savePhotograph(mount, await view(), { caption: 'x'.repeat(201) }, null)).rejects.toThrow(/up to 200 characters/);
    expect((await mountSheet(mount)).photographs).toEqual([]);
  });

  it('is taken out and put back', async () => {
    const mount = await mountOf();
    const { id } = await savePhotograph(mount, await view(), {}, null);
    await removePhotograph(id, true);
    expect((await mountSheet(mount)).photographs[0].removed_at).not.toBeNull();
    await removePhotograph(id, false);
    expect((await mountSheet(mount)).photographs[0].removed_at).toBeNull();
    await expect(removePhotograph(id, 'yes')).rejects.toThrow(/true or false/);
    await expect(removePhotograph(4711, true)).rejects.toThrow('There is no photograph 4711.');
  });
});

describe('a print', () => {
  it('is kept whole or not at all', async () => {
    const mount = await mountOf();
    const about = { face: 'part', reading: READING, figures: figures(0.8) };
    await expect(savePhotograph(mount, await view(), about, null)).rejects.toThrow(
      /its face, its reading, its figures and the part seen from above/,
    );
    await expect(savePhotograph(mount, await view(), { ...about, face: 'lid' }, await view())).rejects.toThrow('The face is part or base.');
    await expect(savePhotograph(mount, await view(), { ...about, figures: figures(1.5) }, await view())).rejects.toThrow(
      /cover should be a share from 0 to 1/,
    );
    await expect(
      savePhotograph(mount, await view(), { ...about, reading: { ...READING, corners: READING.corners.slice(1) } }, await view()),
    ).rejects.toThrow('An imprint has four corners.');
    const out = READING.corners.map((c, i) => (i === 0 ? { x: -0.1, y: 0.1 } : c));
    await expect(savePhotograph(mount, await view(), { ...about, reading: { ...READING, corners: out } }, await view())).rejects.toThrow(
      'A corner lies outside the photograph.',
    );
    const { id } = await savePhotograph(mount, await view(), about, await view());
    expect(await storedPrint(String(id))).toMatchObject({ id, mount_id: mount, face: 'part', reading: { threshold: null } });
    await saveReading(id, { ...about, reading: { ...READING, threshold: 0.4 }, figures: figures(0.85) }, await view());
    expect(await storedPrint(String(id))).toMatchObject({ reading: { threshold: 0.4 } });
    expect((await mountSheet(mount)).photographs[0].figures?.cover).toBe(0.85);
    await expect(storedPrint('none')).rejects.toThrow(/There is no imprint none/);
    expect(await storedPrint(null)).toBeNull();
  });

  it('stands beside the others of its specimen, with what its cover has to do with the rise', async () => {
    const db = database();
    // rises that fall by 0.5 K for ten points of cover
    for (const [i, cover] of [0.6, 0.7, 0.8, 0.9].entries()) {
      const mount = await mountOf();
      await db.query(
        `insert into runs (mount_id, number, import_id, started_zoned, reading, options, result, rise_k, valid, r_valid, censored)
         values ($1, 1, gen_random_uuid(), false, '{}', '{}', '{}', $2, true, false, false)`,
        [mount, 45 - 5 * cover + (i % 2 === 0 ? 0.01 : -0.01)],
      );
      await savePhotograph(
        mount,
        await view(),
        { face: 'base', reading: { ...READING, mirrored: true }, figures: figures(0.1) },
        await view(),
      );
      await savePhotograph(mount, await view(), { face: 'part', reading: READING, figures: figures(cover) }, await view());
    }
    // a cover that is a range is no point, nor does the other face stand in for it
    const doubtful = await mountOf();
    await db.query(
      `insert into runs (mount_id, number, import_id, started_zoned, reading, options, result, rise_k, valid, r_valid, censored)
       values ($1, 1, gen_random_uuid(), false, '{}', '{}', '{}', 44, true, false, false)`,
      [doubtful],
    );
    await savePhotograph(
      doubtful,
      await view(),
      { face: 'base', reading: { ...READING, mirrored: true }, figures: figures(0.1) },
      await view(),
    );
    const unsureFigures = { ...figures(0.5), cover_low: 0.3, cover_high: 0.7, unsure: 'the edges are soft' };
    await savePhotograph(doubtful, await view(), { face: 'part', reading: READING, figures: unsureFigures }, await view());
    const { series, effect, unsure } = await studyPrints(study);
    expect(unsure).toBe(1);
    expect(series.map((s) => [s.specimen, s.prints.length])).toEqual([['Loam White', 10]]);
    expect(series[0].prints.slice(0, 2).map((p) => p.face)).toEqual(['part', 'base']);
    // the part's face counts, not the base's; one point is a hundredth
    expect(effect?.slope).toBeCloseTo(-0.05, 2);
    expect(effect?.n).toBe(4);
    expect(effectWords(effect as NonNullable<typeof effect>)).toMatch(
      /^Within each material, 10 points less coverage came with \+0\.5 K \(95 % \+0\.[45] to \+0\.[56]; r −1\.00, 4 mounts\)\. They are correlated/,
    );
    expect(effectWords({ slope: 0.01, low: -0.2, high: 0.22, r: 0.1, n: 6, df: 3 })).toMatch(/are not correlated beyond chance/);
  });
});

describe('taking a rig apart', () => {
  it('is a list that two people cannot overwrite for each other, with its own photographs', async () => {
    const steps = [
      { what: 'Shroud off', screws: 4, screw_mm: 6, minutes: 3 },
      { what: 'Fan unplugged', connectors: 'beside the lid', minutes: 1 },
    ];
    expect(await teardownView(rig)).toMatchObject({ version: 0, steps: [] });
    expect(await saveTeardown(rig, { base: 0, steps })).toMatchObject({ version: 1, steps });
    await expect(saveTeardown(rig, { base: 0, steps: [] })).rejects.toThrow(/Someone else changed this list/);
    expect((await teardownView(rig)).steps).toHaveLength(2);
    const { id } = await saveRigPhotograph(rig, await view(), { caption: 'shroud' });
    await saveTeardown(rig, { base: 1, steps: [{ ...steps[0], photograph: id }] });
    const other = (await insertRig(database(), `Other ${Math.random()}`, null)) as number;
    await expect(saveTeardown(other, { base: 0, steps: [{ what: 'x', photograph: id }] })).rejects.toThrow(
      'Step 1 names a photograph that is not of this rig.',
    );
    await expect(teardownView(4711)).rejects.toThrow('There is no rig 4711.');
  });

  it('counts twice in the minutes of a mount, there and back, unless the plan says its own', async () => {
    await saveTeardown(rig, { base: 0, steps: [{ what: 'Shroud off', minutes: 3 }] });
    const { plan, context } = await planView(study);
    expect(resolvePlan({ ...plan, rigs: [rig] }, context).said.mount_min).toBe(25 + 6);
    expect(resolvePlan({ ...plan, rigs: [rig], mount_min: 40 }, context).said.mount_min).toBe(40);
  });
});

describe('work and interfaces of a try', () => {
  it('add their steps, merge from two devices, and are told in grid and results', async () => {
    await database().query(`update rigs set sheet = sheet || '{"neighbours": "memory, regulator", "torque_max_nm": 0.8}' where id = $1`, [
      rig,
    ]);
    const mount = await mountOf();
    await beginAttempt(mount, { who: 'TK' });
    const sheet = await saveStep(mount, { work: ['lid_off', 'teardown', 'lid_off'] });
    expect(sheet.current?.work).toEqual(['teardown', 'lid_off']);
    expect(sheet.steps.map((s) => s.key)).toEqual(expect.arrayContaining(['take_apart', 'lid_off', 'reassemble']));
    await expect(saveStep(mount, { work: ['repaint'] })).rejects.toThrow(/Work on the machine is a list/);
    await expect(saveStep(mount, { step: 'lid_off', state: { done_at: '2026-06-02T09:30:00.000Z' } })).rejects.toThrow(
      'Acknowledge the caution first.',
    );
    await saveStep(mount, { step: 'place', state: { interfaces: { memory: 'renewed' } } });
    await saveStep(mount, { step: 'place', state: { interfaces: { regulator: 'inspected' } } });
    const both = await saveStep(mount, { step: 'place', state: { done_at: '2026-06-02T09:30:00.000Z' } });
    expect(both.current?.steps.place?.interfaces).toEqual({ memory: 'renewed', regulator: 'inspected' });
    expect(both.findings).toEqual([]);
    await saveStep(mount, { step: 'tighten', state: { records: { torque_nm: 0.9 } } });
    expect(await studyMountFindings(study)).toMatchObject([
      { mount_id: mount, specimen: 'Loam White', number: 1, findings: [{ code: 'torque_above' }] },
    ]);
    expect((await mountGrid(study)).specimens[0].mounts[0]).toMatchObject({ id: mount, findings: 1, faults: 0 });
  });
});
