import { endpoint } from '#app/http';
import { reportFile } from '#features/report/server/files';

/** A published report to take along: report.json, report.md, report.pdf, or a table such as pairs.csv, pairs.md, pairs.html. */
export const GET = endpoint((ask) => [ask.part('address'), ask.part('file')], reportFile);
