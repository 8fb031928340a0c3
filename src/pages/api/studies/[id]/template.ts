import { endpoint } from '#app/http';
import { saveTemplate } from '#features/study/server/fromTemplate';

/** Saves a study as a template of one's own. */
export const POST = endpoint((ask) => [ask.id('study'), ask.json()], saveTemplate, 201);
