import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#server/http';
import { orderLive } from '#server/live/startLive';

export const POST: APIRoute = ({ params, request }) =>
  answer(async () => {
    await orderLive(parseId(params.id, 'live run'), await readJson(request));
    return json({ ok: true });
  });
