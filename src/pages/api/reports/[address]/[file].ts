import type { APIRoute } from 'astro';
import { answer } from '#app/http';
import { reportFile } from '#features/report/server/files';

/** A published report to take along: report.json, report.md, report.pdf, or a table such as pairs.csv, pairs.md, pairs.html. */
export const GET: APIRoute = ({ params }) => answer(() => reportFile(params.address, params.file ?? ''));
