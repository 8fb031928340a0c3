import { endpoint } from '#app/http';
import { parseSection } from '#features/shelf/server/parseSection';
import { duplicateSheet } from '#features/shelf/server/sheets';

/** A copy of a sheet under a new name. */
export const POST = endpoint(
  (ask) => [parseSection(ask.part('section')), ask.id('sheet')],
  async (section, sheet) => ({ id: await duplicateSheet(section, sheet) }),
  201,
);
