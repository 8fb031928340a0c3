import type { APIRoute } from 'astro';
import { answer, json, parseId, parseSection } from '#server/http';
import { duplicateSheet } from '#server/shelf';

/** A copy of a sheet under a new name. */
export const POST: APIRoute = ({ params }) =>
  answer(async () => json({ id: await duplicateSheet(parseSection(params.section), parseId(params.id, 'sheet')) }, 201));
