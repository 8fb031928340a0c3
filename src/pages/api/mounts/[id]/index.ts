import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#app/http';
import { mountSheet, saveStep } from '#features/mount/server/mountSheet';

export const GET: APIRoute = ({ params }) => answer(async () => json(await mountSheet(parseId(params.id, 'mount'))));

/** Writes what was done at one step. */
export const PATCH: APIRoute = ({ params, request }) => answer(async () => json(await saveStep(parseId(params.id, 'mount'), await readJson(request))));
