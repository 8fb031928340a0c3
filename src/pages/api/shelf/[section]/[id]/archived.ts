import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#app/http';
import { parseSection } from '#features/shelf/server/sections';
import { archiveSheet } from '#features/shelf/server/sheets';

/** Puts a sheet away, or brings it back. */
export const PUT: APIRoute = ({ params, request }) =>
  answer(async () => {
    const { archived } = await readJson(request);
    await archiveSheet(parseSection(params.section), parseId(params.id, 'sheet'), archived === true);
    return json({ archived: archived === true });
  });
