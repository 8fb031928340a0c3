import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#app/http';
import { parseSection } from '#features/shelf/server/sections';
import { removeSheet, saveSheet, sheetView } from '#features/shelf/server/sheets';

export const GET: APIRoute = ({ params }) => answer(async () => json(await sheetView(parseSection(params.section), parseId(params.id, 'sheet'))));

/** Saves a sheet read at a version. */
export const PUT: APIRoute = ({ params, request }) =>
  answer(async () => json(await saveSheet(parseSection(params.section), parseId(params.id, 'sheet'), await readJson(request))));

/** Deletes a sheet, or archives it where it is used. */
export const DELETE: APIRoute = ({ params }) => answer(async () => json(await removeSheet(parseSection(params.section), parseId(params.id, 'sheet'))));
