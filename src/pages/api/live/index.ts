import type { APIRoute } from 'astro';
import { answer, json, readJson } from '#app/http';
import { startLive } from '#features/live/server/startLive';

export const POST: APIRoute = ({ request }) => answer(async () => json(await startLive(await readJson(request)), 201));
