import type { APIRoute } from 'astro';
import { answer, json, readText } from '#app/http';
import { parseSection } from '#features/shelf/server/sections';
import { exportShelf, importShelf } from '#features/shelf/server/sheets';

/** The sheets of a section as CSV. */
export const GET: APIRoute = ({ params }) =>
  answer(async () => {
    const section = parseSection(params.section);
    return new Response(await exportShelf(section), {
      headers: { 'content-type': 'text/csv; charset=utf-8', 'content-disposition': `attachment; filename="${section}.csv"` },
    });
  });

/** Takes sheets from CSV, all or none. */
export const POST: APIRoute = ({ params, request }) =>
  answer(async () => json(await importShelf(parseSection(params.section), await readText(request, 4 * 1024 * 1024))));
