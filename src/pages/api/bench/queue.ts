import type { APIRoute } from 'astro';
import { answer, json } from '#app/http';
import { benchQueue } from '#features/bench/server/queue';

export const GET: APIRoute = () => answer(async () => json(await benchQueue()));
