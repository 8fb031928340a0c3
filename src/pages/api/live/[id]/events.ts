import type { APIRoute } from 'astro';
import { answer, parseId } from '#server/http';
import { liveEvents } from '#server/live/hub';
import { liveView } from '#server/live/liveView';

export const GET: APIRoute = ({ params, request }) =>
  answer(async () => {
    const { id } = await liveView(parseId(params.id, 'live run'));
    return liveEvents(id, request.signal);
  });
