import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#app/http';
import { recordOpening, removeOpening } from '#features/mount/server/openings';

/** Writes down what was found when a mount was opened. */
export const POST: APIRoute = ({ params, request }) => answer(async () => json(await recordOpening(parseId(params.id, 'mount'), await readJson(request)), 201));

/** Takes a record out, or puts it back. */
export const PATCH: APIRoute = ({ params, request }) => answer(async () => json(await removeOpening(parseId(params.id, 'mount'), await readJson(request))));
