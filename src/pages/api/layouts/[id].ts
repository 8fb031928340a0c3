import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#app/http';
import { editLayout, forgetLayout } from '#features/run/server/layouts';

/** Changes the name or the decisions of a layout. */
export const PUT: APIRoute = ({ params, request }) =>
  answer(async () => json({ layouts: await editLayout(parseId(params.id, 'layout'), await readJson(request, 1024 * 1024)) }));

/** Takes a layout away. */
export const DELETE: APIRoute = ({ params }) => answer(async () => json(await forgetLayout(parseId(params.id, 'layout'))));
