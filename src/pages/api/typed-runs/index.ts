import { endpoint, json } from '#app/http';
import { storeTyped } from '#features/run/server/typedRun';

/** Stores a run that was read from a display. */
export const POST = endpoint(
  (ask) => [ask.json()],
  async (given) => {
    const stored = await storeTyped(given);
    return json(stored, stored.repeated ? 200 : 201);
  },
);
