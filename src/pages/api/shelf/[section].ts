import { endpoint } from '#app/http';
import { parseSection } from '#features/shelf/server/parseSection';
import { createSheet, listShelf } from '#features/shelf/server/sheets';

/** The sheets of a section. */
export const GET = endpoint((ask) => [parseSection(ask.part('section'))], listShelf);

/** Adds a sheet. */
export const POST = endpoint(
  (ask) => [parseSection(ask.part('section')), ask.json()],
  async (section, sheet) => ({ id: await createSheet(section, sheet) }),
  201,
);
