import type { APIRoute } from 'astro';
import { answer } from '#server/http';
import { benchEvents } from '#server/live/hub';

export const GET: APIRoute = ({ request }) => answer(async () => benchEvents(request.signal));
