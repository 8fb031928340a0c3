import type { APIRoute } from 'astro';
import { answer } from '#app/http';
import { benchEvents } from '#features/live/server/hub';

export const GET: APIRoute = ({ request }) => answer(async () => benchEvents(request.signal));
