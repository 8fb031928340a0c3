import { givenSettings, labSettings, SETTINGS_DEFAULTS, settingsFields } from '#app/settings';
import { storeRoom } from './storeRoom';

/** The settings of the lab as their page shows them. */
export async function settingsView() {
  const [given, room] = await Promise.all([givenSettings(), storeRoom()]);
  return { fields: settingsFields(), given, defaults: SETTINGS_DEFAULTS, room };
}

/** What a page goes by; as it comes where the store does not answer: the page that says so has to be shown. */
export const readingSettings = () => labSettings().catch(() => SETTINGS_DEFAULTS);

export type SettingsView = Awaited<ReturnType<typeof settingsView>>;
