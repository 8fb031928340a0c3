import { endpoint } from '#app/http';
import { MOST_PUSH_BYTES, takePush } from '#features/live/server/ingest';
import { liveView } from '#features/live/server/liveView';

export const GET = endpoint((ask) => [ask.id('live run')], liveView);

/** Readings that a device pushes, a JSON object a line. */
export const POST = endpoint((ask) => [ask.id('live run'), () => ask.text(MOST_PUSH_BYTES)], takePush);
