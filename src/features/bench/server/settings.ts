import { database } from '#app/database/pool';
import { givenSettings, labSettings, SETTINGS_DEFAULTS, settingsFields } from '#app/settings';
import { countKept } from '#features/run/store/samples';
import { storeRoom } from './storeRoom';

/** The settings of the lab as their page shows them. */
export async function settingsView() {
  const [given, room, samples] = await Promise.all([givenSettings(), storeRoom(), countKept(database())]);
  return { fields: settingsFields(), given, defaults: SETTINGS_DEFAULTS, room, samples };
}

/** What a page goes by; as it comes where the store does not answer: the page that says so has to be shown. */
export const readingSettings = () => labSettings().catch(() => SETTINGS_DEFAULTS);

export type SettingsView = Awaited<ReturnType<typeof settingsView>>;
