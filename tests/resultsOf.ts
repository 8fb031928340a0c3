import { resultsPlace } from '../src/features/results/server/resultsPlace.ts';

/** A study with its comparison, as its results place tells it. */
export async function resultsOf(study: number) {
  return (await resultsPlace(study)).results;
}
