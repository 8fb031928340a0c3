import type { Readable } from 'node:stream';
import yazl from 'yazl';
import { csvText } from '#core/text/csv';
import { reportAsMarkdown } from '#features/report/model/markdown';
import { embeddedJson, metadata, type PublishedReport } from '#features/report/model/published';
import { reportTables } from '#features/report/model/tables';

/** The same version gives the same bytes: the times of the ZIP say nothing. */
const ENTRY = { mtime: new Date(1980, 0, 1), mode: 0o100644, forceDosTimestamp: true } as const;

/**
 * A published version as a folder for a static host, in a ZIP.
 * @param drawn pages and drawings by their places
 */
export function publishedFolder(report: PublishedReport & { text: string }, drawn: Record<string, string>): Readable {
  const zip = new yazl.ZipFile();
  const files: Record<string, string> = {
    ...drawn,
    'report.json': report.text,
    'report.md': reportAsMarkdown(report.content),
    'metadata.json': `${embeddedJson(metadata(report))}\n`,
    ...Object.fromEntries(reportTables(report.content).map((t) => [`tables/${t.key}.csv`, csvText([t.columns, ...t.rows])])),
  };
  for (const [name, content] of Object.entries(files)) zip.addBuffer(Buffer.from(content), name, ENTRY);
  zip.end();
  return zip.outputStream as Readable;
}
