import { endpoint } from '#app/http';
import { studyFromTemplate } from '#features/study/server/fromTemplate';

/** Opens a study from a question. */
export const POST = endpoint((ask) => [ask.json()], studyFromTemplate, 201);
