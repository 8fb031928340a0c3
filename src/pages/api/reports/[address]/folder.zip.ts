import { Readable } from 'node:stream';
import { endpoint } from '#app/http';
import { publishedReport } from '#features/report/server/published';
import { publishedAssets } from '#features/report/server/publishedAssets';
import { publishedFolder } from '#features/report/server/publishedFolder';
import { renderFigures, renderFramed, renderPage } from '#features/report/view/published/renderPublished.tsx';

/** A published version as a folder for a static host: the page, its drawings and their frames, its tables and its content. */
export const GET = endpoint(
  (ask) => [ask.part('address')],
  async (address: string) => {
    const report = await publishedReport(address);
    const figures = renderFigures(report);
    const stream = publishedFolder(report, {
      'index.html': renderPage(report, await publishedAssets(report.text)),
      ...Object.fromEntries(Object.entries(figures).map(([name, svg]) => [`figures/${name}`, svg])),
      ...Object.fromEntries(
        Object.entries(figures).map(([name, svg]) => [`figures/${name.replace('.svg', '.html')}`, renderFramed(report.content.title, svg)]),
      ),
    });
    return new Response(Readable.toWeb(stream) as ReadableStream, {
      headers: {
        'content-type': 'application/zip',
        'cache-control': 'no-store',
        'content-disposition': `attachment; filename="${address}.zip"`,
      },
    });
  },
);
