import type { APIRoute } from 'astro';
import { answer, json } from '#server/http';
import { askStore } from '#server/places';

/** Whether the application and its store answer. */
export const GET: APIRoute = () =>
  answer(async () => {
    await askStore();
    return json({ ok: true });
  });
