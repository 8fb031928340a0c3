import type { APIRoute } from 'astro';
import { answer, json, parseId } from '#app/http';
import { removeSpecimen } from '#features/study/server/specimens';

/** Takes a specimen out of its study, while it has no mount. */
export const DELETE: APIRoute = ({ params }) =>
  answer(async () => json(await removeSpecimen(parseId(params.id, 'study'), parseId(params.specimen, 'specimen'))));
