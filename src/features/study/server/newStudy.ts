import type { Client } from '#app/database/pool';
import { labSettings, SETTINGS_DEFAULTS } from '#app/settings';
import { insertStudy } from '#features/study/store/studies';

/**
 * Opens a study with what the lab's settings say of new ones: smallest difference, confidence, averaging window and currency.
 * @returns null where the title is taken
 */
export async function insertNewStudy(db: Client, study: { title: string; question?: string; margin_k?: number }): Promise<number | null> {
  const { margin_k, confidence, window_s, currency } = await labSettings(db);
  return insertStudy(db, {
    ...{ title: study.title, question: study.question ?? '', margin_k: study.margin_k ?? margin_k, confidence },
    reduction: window_s === SETTINGS_DEFAULTS.window_s ? {} : { window_s },
    plan: currency === '' ? {} : { currency },
  });
}
