import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#app/http';
import { orderLive } from '#features/live/server/startLive';

export const POST: APIRoute = ({ params, request }) =>
  answer(async () => {
    await orderLive(parseId(params.id, 'live run'), await readJson(request));
    return json({ ok: true });
  });
