import { endpoint } from '#app/http';
import { choiceOf } from '#features/ranking/model/choiceAddress';
import { rankedDifference } from '#features/ranking/server/rankingPlace';

/** The difference of two materials over all set-ups: ?a=m1&b=m2, with the choices of the place. */
export const GET = endpoint(
  (ask) => [choiceOf(new URL(ask.request.url).searchParams), ask.query('a') ?? '', ask.query('b') ?? ''],
  rankedDifference,
);
