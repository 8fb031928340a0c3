import type { APIRoute } from 'astro';
import { answer, json, parseId } from '#server/http';
import { liveReadings } from '#server/live/liveView';

export const GET: APIRoute = ({ params }) => answer(async () => json(await liveReadings(parseId(params.id, 'live run'))));
