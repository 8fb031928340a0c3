import { endpoint } from '#app/http';
import { copyStudy } from '#features/study/server/copyStudy';

/** Copies a study without its data. */
export const POST = endpoint((ask) => [ask.id('study'), ask.json()], copyStudy, 201);
