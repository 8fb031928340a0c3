import { endpoint } from '#app/http';
import { removeSpecimen } from '#features/study/server/specimens';

/** Takes a specimen out of its study, while it has no mount. */
export const DELETE = endpoint((ask) => [ask.id('study'), ask.id('specimen', 'specimen')], removeSpecimen);
