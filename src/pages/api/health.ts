import type { APIRoute } from 'astro';
import { database } from '#db/pool';
import { answer, json } from '#server/http';

/** Whether the application and its store answer. */
export const GET: APIRoute = () =>
  answer(async () => {
    await database().query('select 1');
    return json({ ok: true });
  });
