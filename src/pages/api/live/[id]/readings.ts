import type { APIRoute } from 'astro';
import { answer, json, parseId } from '#app/http';
import { liveReadings } from '#features/live/server/liveView';

export const GET: APIRoute = ({ params }) => answer(async () => json(await liveReadings(parseId(params.id, 'live run'))));
