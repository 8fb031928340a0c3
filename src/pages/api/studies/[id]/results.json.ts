import { endpoint } from '#app/http';
import { resultsPlace } from '#features/results/server/resultsPlace';

/** The comparison of a study at full precision, with the facts it rests on. */
export const GET = endpoint(
  (ask) => [ask.id('study')],
  async (id) => {
    const { results, ...place } = await resultsPlace(id);
    return { ...results, ...place, analysis: place.answer.analysis };
  },
);
