import { endpoint } from '#app/http';
import { askStore } from '#features/run/server/places';

/** Whether the application and its store answer. */
export const GET = endpoint(
  () => [],
  async () => {
    await askStore();
    return { ok: true };
  },
);
