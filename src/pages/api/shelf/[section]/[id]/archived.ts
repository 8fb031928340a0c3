import { endpoint } from '#app/http';
import { parseSection } from '#features/shelf/server/parseSection';
import { archiveSheet } from '#features/shelf/server/sheets';

/** Puts a sheet away, or brings it back. */
export const PUT = endpoint(
  (ask) => [parseSection(ask.part('section')), ask.id('sheet'), ask.json()],
  async (section, id, given) => {
    const archived = given.archived === true;
    await archiveSheet(section, id, archived);
    return { archived };
  },
);
