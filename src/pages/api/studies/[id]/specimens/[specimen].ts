import { endpoint } from '#app/http';
import { removeSpecimen, shelveSpecimen } from '#features/study/server/specimens';

/** Puts a specimen that was typed by name on the shelf. */
export const POST = endpoint((ask) => [ask.id('study'), ask.id('specimen', 'specimen')], shelveSpecimen);

/** Takes a specimen out of its study, while it has no mount. */
export const DELETE = endpoint((ask) => [ask.id('study'), ask.id('specimen', 'specimen')], removeSpecimen);
