import { endpoint } from '#app/http';
import { orderLive } from '#features/live/server/startLive';

export const POST = endpoint(
  (ask) => [ask.id('live run'), ask.json()],
  async (id, order) => {
    await orderLive(id, order);
    return { ok: true };
  },
);
