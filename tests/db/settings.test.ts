import { describe, expect, it } from 'vitest';
import { database } from '#app/database/pool';
import { labSettings, saveSettings } from '#app/settings';
import { studyFromTemplate } from '#features/study/server/fromTemplate';
import { openStudy } from '#features/study/server/openStudy';
import { planView } from '#features/study/server/planView';
import { getStudy } from '#features/study/store/studies';
import { onFreshDatabase } from '../database.ts';

onFreshDatabase();

describe('the settings of the lab', () => {
  it('have defaults, are stored, and leave out what is emptied', async () => {
    expect(await labSettings()).toMatchObject({ dates: 'iso', clock: '24', margin_k: 1, confidence: 0.95, window_s: 120, sound: true });
    await saveSettings({
      dates: 'dmy',
      zone: 'Europe/Zurich',
      margin_k: 0.5,
      confidence: 0.99,
      window_s: 180,
      currency: 'CHF',
      sound: false,
    });
    expect(await labSettings()).toMatchObject({ dates: 'dmy', zone: 'Europe/Zurich', window_s: 180, sound: false, clock: '24' });
  });

  it.each([
    [{ margin_k: 0 }, 'between 0.01 and 50 K'],
    [{ confidence: 95 }, 'between 0.5 and 0.9999'],
    [{ window_s: 10 }, 'between 30 and 3600'],
    [{ dates: 'ymd' }, 'Dates is one of'],
    [{ zone: 'Thornmere' }, '"Thornmere" is not a time zone'],
    [{ currency: 'eur' }, 'three capital letters'],
  ])('refuse %o', async (given, words) => {
    await expect(saveSettings(given)).rejects.toThrow(words);
    expect(await labSettings()).toMatchObject({ margin_k: 0.5 });
  });

  it('are what new studies start with; those there are keep their own', async () => {
    const id = await openStudy({ title: 'By settings', question: '', margin_k: 2 });
    expect(await getStudy(database(), id)).toMatchObject({
      margin_k: 2,
      confidence: 0.99,
      reduction: { window_s: 180 },
      plan: { currency: 'CHF' },
    });
    expect((await planView(id)).plan).toMatchObject({ margin_k: 2, confidence: 0.99, currency: 'CHF' });
    const made = await studyFromTemplate({
      template: 'material',
      title: 'Asked',
      names: [{ name: 'A' }, { name: 'B' }],
      margin: 0.7,
      days: 2,
    });
    expect(await getStudy(database(), made.id)).toMatchObject({ margin_k: 0.7, confidence: 0.99, reduction: { window_s: 180 } });
    await saveSettings({});
    expect((await getStudy(database(), id))?.confidence).toBe(0.99);
    const plain = await openStudy({ title: 'As it comes', question: '', margin_k: 1 });
    expect(await getStudy(database(), plain)).toMatchObject({ confidence: 0.95, reduction: {}, plan: {} });
  });
});
