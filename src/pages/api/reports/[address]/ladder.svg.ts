import { attachment, endpoint } from '#app/http';
import { Refusal } from '#app/refusal';
import { publishedReport } from '#features/report/server/published';
import { renderFigures } from '#features/report/view/published/renderPublished.tsx';

/** The ladder of a published version as a drawing for other pages: text stays text. */
export const GET = endpoint(
  (ask) => [ask.part('address')],
  async (address: string) => {
    const svg = renderFigures(await publishedReport(address))['ladder.svg'];
    if (!svg) throw new Refusal('The report has no ladder.', 404);
    return attachment(svg, 'image/svg+xml', `${address}-ladder.svg`);
  },
);
