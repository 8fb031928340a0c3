import { endpoint } from '#app/http';
import { NewStudy } from '#features/study/model/newStudy';
import { openStudy } from '#features/study/server/openStudy';
import { check } from '#rules/validation';

/** Opens a study. */
export const POST = endpoint(
  (ask) => [ask.json()],
  async (given) => ({ id: await openStudy(check(NewStudy, given)) }),
  201,
);
