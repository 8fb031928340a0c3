import writeXlsxFile from 'write-excel-file/node';
import { Refusal } from '#app/refusal';
import { csvText } from '#core/text/csv';
import { printable } from '#core/text/printable';
import { asMarkdown } from '#core/text/words';
import { reportAsMarkdown } from '#features/report/model/markdown';
import { type ReportTable, reportTables, tableAsHtml, tableAsMarkdown } from '#features/report/model/tables';
import type { ReportRow } from '#features/report/store/reports';
import { frozenReport } from './freeze';
import { printPdf } from './pdf';

const TYPES = {
  ...{ json: 'application/json', md: 'text/markdown', csv: 'text/csv', html: 'text/html', pdf: 'application/pdf' },
  xlsx: 'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
} as const;

/**
 * A file of a published report.
 * @param file report.json (the very bytes of the checksum), report.md, report.pdf, or the name of a table with .csv, .xlsx, .md or .html
 */
export async function reportFile(address: string | undefined, file: string): Promise<Response> {
  const { row, content, text } = await frozenReport(address);
  const [name, ending] = file.split('.');
  if (file === 'report.json') return send(text, 'json', `${address}.json`);
  if (file === 'report.md')
    return send(
      reportAsMarkdown(content).replace('\n', () => `\n\n${headOf(row)}`),
      'md',
      `${address}.md`,
    );
  if (file === 'report.pdf') return send(new Uint8Array(await printPdf(`/reports/${address}`)), 'pdf', `${address}.pdf`);
  const tables = reportTables(content);
  const table = tables.find((t) => t.key === name);
  if (!table || !(ending === 'csv' || ending === 'xlsx' || ending === 'md' || ending === 'html'))
    throw new Refusal(
      `The report has no file "${file}"; there are report.json, report.md, report.pdf, and ${tables.map((t) => t.key).join(', ')} as .csv, .xlsx, .md or .html.`,
      404,
    );
  const as = {
    csv: () => csvText([table.columns, ...table.rows]),
    xlsx: () => asWorkbook(table),
    md: () => `${tableAsMarkdown(table)}\n`,
    html: () => tableAsHtml(table),
  };
  return send(await as[ending](), ending, `${address}-${name}.${ending}`);
}

/** A table as a workbook of one sheet, its numbers as numbers. */
async function asWorkbook({ title, columns, rows }: ReportTable): Promise<Uint8Array<ArrayBuffer>> {
  const head = columns.map((value) => ({ value, fontWeight: 'bold' as const }));
  const body = rows.map((row) =>
    row.map((value) =>
      value === null || value === '' ? null : typeof value === 'string' ? { type: String, value: printable(value) } : { value },
    ),
  );
  return new Uint8Array(await writeXlsxFile([head, ...body], { sheet: title.slice(0, 31) }).toBuffer());
}

/** Who wrote a version, and that it was withdrawn, below its title. */
const headOf = ({ author, withdrawn_at, withdrawn_reason }: Omit<ReportRow, 'content'>): string =>
  [
    ...(withdrawn_at ? [`**Withdrawn on ${withdrawn_at.toISOString().slice(0, 10)}:** ${asMarkdown(withdrawn_reason)}\n\n`] : []),
    ...(author ? [`By ${asMarkdown(author)}\n`] : []),
  ].join('');

const send = (body: string | Uint8Array<ArrayBuffer>, type: keyof typeof TYPES, name: string): Response =>
  new Response(body, {
    headers: {
      'content-type': `${TYPES[type]}; charset=utf-8`,
      'content-disposition': `attachment; filename="${name}"`,
      'cache-control': 'no-store',
    },
  });
