import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#app/http';
import { changeOrder } from '#features/study/server/order';

/** Draws the order of the mounts, moves or marks one, or puts an order back. */
export const POST: APIRoute = ({ params, request }) =>
  answer(async () => json(await changeOrder(parseId(params.id, 'study'), await readJson(request, 4 * 1024 * 1024))));
