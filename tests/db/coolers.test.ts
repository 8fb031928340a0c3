import { beforeEach, describe, expect, it } from 'vitest';
import { database } from '#app/database/pool';
import { mountSheet } from '#features/mount/server/mountSheet';
import { recordOpening, removeOpening } from '#features/mount/server/openings';
import { listStudyOpenings } from '#features/mount/store/openings';
import { coolersPlace } from '#features/results/server/coolersPlace';
import { removeSoundClip, saveSoundClip, soundClip } from '#features/results/server/soundClips';
import { sweepSheet } from '#features/results/server/sweepSheet';
import { listSoundClips } from '#features/results/store/soundClips';
import { insertRig } from '#features/shelf/store/rigs';
import { insertSheet } from '#features/shelf/store/sheets';
import { insertMount, insertSpecimen, insertStudy, linkSpecimen } from '#features/study/store/studies';
import { stepRuns } from '#features/tools/server/stepRuns';
import { onFreshDatabase } from '../database.ts';

onFreshDatabase();

const WAV = Uint8Array.from([...'RIFF\x24\0\0\0WAVEfmt '].map((c) => c.charCodeAt(0)));
let study: number;
let specimen: number;
let mount: number;
beforeEach(async () => {
  const db = database();
  study = (await insertStudy(db, { title: `Coolers ${Math.random()}`, question: '', margin_k: 1, reduction: {} })) as number;
  const rig = (await insertRig(db, `Bench ${Math.random()}`, null)) as number;
  specimen = (await insertSpecimen(db, study, 'Heron', 'cooler')) as number;
  const sheet = await insertSheet(db, 'coolers', `Heron ${Math.random()}`, {
    kind: 'tower',
    height_mm: 158,
    mass_g: 890,
    price: 52,
    currency: 'EUR',
  });
  await linkSpecimen(db, specimen, null, sheet);
  mount = (await insertMount(db, specimen, rig, '')).id;
});

describe('a mount that was opened again', () => {
  it('keeps what was found, and lists it with its study until it is taken out', async () => {
    const view = await recordOpening(mount, { found: ['pumped_out', 'dry'], note: ' thin over the middle ', who: 'EB' });
    expect(view.openings).toMatchObject([{ found: ['pumped_out', 'dry'], note: 'thin over the middle', who: 'EB', removed_at: null }]);
    expect(await listStudyOpenings(database(), study)).toMatchObject([{ specimen: 'Heron', mount: 1, photographs: [] }]);
    const { id } = view.openings[0];
    await removeOpening(mount, { opening: id });
    expect(await listStudyOpenings(database(), study)).toEqual([]);
    expect((await removeOpening(mount, { opening: id, removed: false })).openings[0].removed_at).toBeNull();
  });
  it('refuses what says nothing, and what belongs to another', async () => {
    await expect(recordOpening(mount, { found: [] })).rejects.toThrow('Say what was found');
    await expect(recordOpening(mount, { found: ['as_made', 'dry'] })).rejects.toThrow('either as it was made');
    await expect(recordOpening(4711, { found: ['dry'] })).rejects.toThrow('There is no mount 4711');
    const { openings } = await recordOpening(mount, { found: ['dry'] });
    await expect(removeOpening(mount + 1000, { opening: openings[0].id })).rejects.toThrow('not in the record of this mount');
    await expect(removeOpening(mount, { opening: 'first' })).rejects.toThrow('Say which opening');
    expect((await mountSheet(mount)).openings).toHaveLength(1);
  });
});

describe('a clip of a cooler', () => {
  it('is kept byte for byte, taken out and put back', async () => {
    const { id } = await saveSoundClip(specimen, 'heron.wav', WAV, { rpm: 1146, level_db: 32, note: ' hum ' });
    const { kind, bytes } = await soundClip(id);
    expect([kind, [...bytes]]).toEqual(['audio/wav', [...WAV]]);
    await removeSoundClip(id, true);
    expect((await listSoundClips(database(), study))[0]).toMatchObject({
      specimen: 'Heron',
      rpm: 1146,
      level_db: 32,
      note: 'hum',
      removed_at: expect.any(Date),
    });
    await removeSoundClip(id, false);
    expect((await listSoundClips(database(), study))[0].removed_at).toBeNull();
  });
  it('is refused where it is none, too large, one too many, or of nothing', async () => {
    await expect(saveSoundClip(specimen, 'a.wav', new TextEncoder().encode('<html>'), {})).rejects.toThrow('cannot be played as a clip');
    const large = new Uint8Array(8 * 1_048_576 + 1);
    large.set(WAV);
    await expect(saveSoundClip(specimen, 'a.wav', large, {})).rejects.toThrow('larger than the 8 MB');
    await expect(saveSoundClip(specimen, 'a.wav', WAV, { rpm: -4 })).rejects.toThrow('between 1 and 100000 rpm');
    await expect(saveSoundClip(4711, 'a.wav', WAV, {})).rejects.toThrow('There is no specimen 4711');
    await expect(soundClip(4711)).rejects.toThrow('There is no clip 4711');
    for (let i = 0; i < 12; i++) await saveSoundClip(specimen, `${i}.wav`, WAV, {});
    await expect(saveSoundClip(specimen, 'a.wav', WAV, {})).rejects.toThrow('up to 12 clips');
  });
});

describe('the coolers of a study', () => {
  it('stand with their sheets against the enclosure that the plan names', async () => {
    await database().query(`update studies set plan = plan || '{"fit_enclosure": "hut bay", "fit_height_mm": 150}' where id = $1`, [study]);
    const { builds, clips } = await coolersPlace(study);
    expect(builds).toMatchObject([{ specimen: 'Heron', height_mm: 158, price: '52.00 EUR', fits: 'no' }]);
    expect(clips).toEqual([]);
  });
  it('have a sheet to be measured by at the speeds asked for', async () => {
    expect(await sweepSheet(study, null)).toMatchObject({ speeds: [600, 750, 950, 1200, 1500], mounts: [{ specimen: 'Heron', mount: 1 }] });
    expect((await sweepSheet(study, '1250; 700,700')).speeds).toEqual([700, 1250]);
    expect(await sweepSheet(study, 'fast')).toMatchObject({
      speeds: [600, 750, 950, 1200, 1500],
      problem: expect.stringContaining('such as 700, 950, 1250, 1600; "fast" is not'),
    });
    expect((await sweepSheet(study, ',')).problem).toContain('Speeds are up to 12 numbers of rpm');
  });
  it('have no step to read layers from before a log was stored', async () => {
    expect(await stepRuns()).toEqual([]);
  });
});
