import type { APIRoute } from 'astro';
import { answer, json, parseId, readText } from '#app/http';
import { MOST_PUSH_BYTES, takePush } from '#features/live/server/ingest';
import { liveView } from '#features/live/server/liveView';

export const GET: APIRoute = ({ params }) => answer(async () => json(await liveView(parseId(params.id, 'live run'))));

/** Readings that a device pushes, a JSON object a line. */
export const POST: APIRoute = ({ params, request }) =>
  answer(async () => {
    const id = parseId(params.id, 'live run');
    return json(await takePush(id, () => readText(request, MOST_PUSH_BYTES)));
  });
