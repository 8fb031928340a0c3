import type { APIRoute } from 'astro';
import { answer, json, readJson } from '#server/http';
import { startLive } from '#server/live/startLive';

export const POST: APIRoute = ({ request }) => answer(async () => json(await startLive(await readJson(request)), 201));
