import { endpoint } from '#app/http';
import { storeRecommendations, studyRecommendations } from '#features/results/server/recommend';

export const GET = endpoint((ask) => [ask.id('study')], studyRecommendations);

/** Stores the tester's own words per kind of reader. */
export const PUT = endpoint((ask) => [ask.id('study'), ask.json()], storeRecommendations);
