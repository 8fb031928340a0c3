import { endpoint } from '#app/http';
import { liveEvents } from '#features/live/server/hub';
import { liveView } from '#features/live/server/liveView';

export const GET = endpoint(
  (ask) => [ask.id('live run'), ask.request.signal],
  async (id, signal) => liveEvents((await liveView(id)).id, signal),
);
