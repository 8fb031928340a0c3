import { givenSettings, labSettings, SETTINGS_DEFAULTS, settingsFields } from '#app/settings';

/** The settings of the lab as their page shows them. */
export async function settingsView() {
  return { fields: settingsFields(), given: await givenSettings(), defaults: SETTINGS_DEFAULTS };
}

/** What a page goes by; as it comes where the store does not answer: the page that says so has to be shown. */
export const readingSettings = () => labSettings().catch(() => SETTINGS_DEFAULTS);

export type SettingsView = Awaited<ReturnType<typeof settingsView>>;
