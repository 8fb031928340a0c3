import type { APIRoute } from 'astro';
import { answer, json, parseSection, readJson } from '#server/http';
import { createSheet, listShelf } from '#server/shelf';

/** The sheets of a section. */
export const GET: APIRoute = ({ params }) => answer(async () => json(await listShelf(parseSection(params.section))));

/** Adds a sheet. */
export const POST: APIRoute = ({ params, request }) =>
  answer(async () => json({ id: await createSheet(parseSection(params.section), await readJson(request)) }, 201));
