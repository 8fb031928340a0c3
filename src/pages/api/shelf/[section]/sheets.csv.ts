import { attachment, endpoint } from '#app/http';
import { parseSection } from '#features/shelf/server/parseSection';
import { exportShelf, importShelf } from '#features/shelf/server/sheets';

/** The sheets of a section as CSV. */
export const GET = endpoint(
  (ask) => [parseSection(ask.part('section'))],
  async (section) => attachment(await exportShelf(section), 'text/csv', `${section}.csv`),
);

/** Takes sheets from CSV, all or none. */
export const POST = endpoint((ask) => [parseSection(ask.part('section')), ask.text(4 * 1024 * 1024)], importShelf);
