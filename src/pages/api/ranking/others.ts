import { endpoint } from '#app/http';
import { choiceOf } from '#features/ranking/model/choiceAddress';
import { someAgainstOthers } from '#features/ranking/server/rankingPlace';

const MOST = 400;

/** Some set-ups against the others: ?part=3 is the fourth handful of them. */
export const GET = endpoint((ask) => {
  const part = Number(ask.query('part'));
  return [choiceOf(new URL(ask.request.url).searchParams), Number.isInteger(part) && part >= 0 && part < MOST ? part : 0];
}, someAgainstOthers);
