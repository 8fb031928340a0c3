import { endpoint } from '#app/http';
import { openStudy } from '#features/run/server/places';
import { NewStudy } from '#features/study/model/newStudy';
import { check } from '#rules/validation';

/** Opens a study. */
export const POST = endpoint(
  (ask) => [ask.json()],
  async (given) => ({ id: await openStudy(check(NewStudy, given)) }),
  201,
);
