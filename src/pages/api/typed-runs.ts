import type { APIRoute } from 'astro';
import { answer, json, readJson } from '#app/http';
import { storeTyped } from '#features/run/server/typedRun';

/** Stores a run that was read from a display. */
export const POST: APIRoute = ({ request }) =>
  answer(async () => {
    const stored = await storeTyped(await readJson(request));
    return json(stored, stored.repeated ? 200 : 201);
  });
