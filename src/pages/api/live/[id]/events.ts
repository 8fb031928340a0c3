import type { APIRoute } from 'astro';
import { answer, parseId } from '#app/http';
import { liveEvents } from '#features/live/server/hub';
import { liveView } from '#features/live/server/liveView';

export const GET: APIRoute = ({ params, request }) =>
  answer(async () => {
    const { id } = await liveView(parseId(params.id, 'live run'));
    return liveEvents(id, request.signal);
  });
