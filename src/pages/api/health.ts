import type { APIRoute } from 'astro';
import { answer, json } from '#app/http';
import { askStore } from '#features/run/server/places';

/** Whether the application and its store answer. */
export const GET: APIRoute = () =>
  answer(async () => {
    await askStore();
    return json({ ok: true });
  });
