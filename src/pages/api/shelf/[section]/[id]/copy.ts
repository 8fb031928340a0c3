import type { APIRoute } from 'astro';
import { answer, json, parseId } from '#app/http';
import { parseSection } from '#features/shelf/server/sections';
import { duplicateSheet } from '#features/shelf/server/sheets';

/** A copy of a sheet under a new name. */
export const POST: APIRoute = ({ params }) =>
  answer(async () => json({ id: await duplicateSheet(parseSection(params.section), parseId(params.id, 'sheet')) }, 201));
