import type { APIRoute } from 'astro';
import { answer, json, parseId, parseSection, readJson } from '#server/http';
import { archiveSheet } from '#server/shelf';

/** Puts a sheet away, or brings it back. */
export const PUT: APIRoute = ({ params, request }) =>
  answer(async () => {
    const { archived } = await readJson(request);
    await archiveSheet(parseSection(params.section), parseId(params.id, 'sheet'), archived === true);
    return json({ archived: archived === true });
  });
