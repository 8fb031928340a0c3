import { endpoint } from '#app/http';
import { givenSettings, saveSettings } from '#app/settings';

/** What the lab set. */
export const GET = endpoint(
  () => [],
  () => givenSettings(),
);

/** Stores the settings of the lab. */
export const PUT = endpoint((ask) => [ask.json()], saveSettings);
