import type { APIRoute } from 'astro';
import { answer, json } from '#server/http';
import { benchQueue } from '#server/live/queue';

export const GET: APIRoute = () => answer(async () => json(await benchQueue()));
