import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#app/http';
import { addSpecimen } from '#features/study/server/specimens';

/** Adds a specimen. */
export const POST: APIRoute = ({ params, request }) => answer(async () => json(await addSpecimen(parseId(params.id, 'study'), await readJson(request)), 201));
