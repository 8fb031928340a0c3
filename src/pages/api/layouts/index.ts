import type { APIRoute } from 'astro';
import { answer, json, readJson } from '#app/http';
import { layouts, rememberLayout, takeLayouts } from '#features/run/server/layouts';

/** How files of each kind are read. */
export const GET: APIRoute = () => answer(async () => json({ layouts: await layouts() }));

/** Remembers one layout, or takes over a file of them. */
export const POST: APIRoute = ({ request }) =>
  answer(async () => {
    const body = await readJson(request, 4 * 1024 * 1024);
    return 'layouts' in body ? json({ layouts: await takeLayouts(body) }) : json(await rememberLayout(body), 201);
  });
