import { attachment, endpoint } from '#app/http';
import { publishedReport } from '#features/report/server/published';
import { publishedAssets } from '#features/report/server/publishedAssets';
import { renderPage } from '#features/report/view/published/renderPublished.tsx';

/** A published version as one page that opens anywhere, with no script and no request. */
export const GET = endpoint(
  (ask) => [ask.part('address')],
  async (address: string) => {
    const report = await publishedReport(address);
    return attachment(renderPage(report, await publishedAssets(report.text)), 'text/html', `${address}.html`);
  },
);
