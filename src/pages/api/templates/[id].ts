import { endpoint } from '#app/http';
import { deleteTemplate, studyFromOwn } from '#features/study/server/fromTemplate';

/** Opens a study from a template of one's own. */
export const POST = endpoint((ask) => [ask.id('template'), ask.json()], studyFromOwn, 201);

/** Deletes a template of one's own, or puts it back. */
export const PUT = endpoint((ask) => [ask.id('template'), ask.json()], deleteTemplate);
