import type { APIRoute } from 'astro';
import { answer, json } from '#app/http';
import { listPlaces } from '#features/run/server/places';

/** Studies, specimens, mounts and rigs, for saying where a run belongs. */
export const GET: APIRoute = () => answer(async () => json(await listPlaces()));
