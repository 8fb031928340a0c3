import type { APIRoute } from 'astro';
import { answer, json, readJson } from '#app/http';
import { parseSection } from '#features/shelf/server/sections';
import { createSheet, listShelf } from '#features/shelf/server/sheets';

/** The sheets of a section. */
export const GET: APIRoute = ({ params }) => answer(async () => json(await listShelf(parseSection(params.section))));

/** Adds a sheet. */
export const POST: APIRoute = ({ params, request }) =>
  answer(async () => json({ id: await createSheet(parseSection(params.section), await readJson(request)) }, 201));
