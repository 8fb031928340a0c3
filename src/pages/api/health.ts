import { askStore } from '#app/database/pool';
import { endpoint } from '#app/http';

/** Whether the application and its store answer. */
export const GET = endpoint(
  () => [],
  async () => {
    await askStore();
    return { ok: true };
  },
);
