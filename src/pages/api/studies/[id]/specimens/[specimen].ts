import { endpoint } from '#app/http';
import { nameSpecimen, shelveSpecimen } from '#features/study/server/specimens';

/** Puts a specimen that was typed by name on the shelf. */
export const POST = endpoint((ask) => [ask.id('study'), ask.id('specimen', 'specimen')], shelveSpecimen);

/** Gives a specimen another name. */
export const PUT = endpoint((ask) => [ask.id('study'), ask.id('specimen', 'specimen'), ask.json()], nameSpecimen);
