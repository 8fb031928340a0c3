import { askStore } from '#app/database/pool';
import { endpoint } from '#app/http';
import { storeRoom } from '#features/bench/server/storeRoom';

/** Whether the application and its store answer, and what room is left for the store. */
export const GET = endpoint(
  () => [],
  async () => {
    await askStore();
    return { ok: true, room: await storeRoom() };
  },
);
