import type { APIRoute } from 'astro';
import { answer, json, parseId } from '#server/http';
import { removeSpecimen } from '#server/plan/specimens';

/** Takes a specimen out of its study, while it has no mount. */
export const DELETE: APIRoute = ({ params }) =>
  answer(async () => json(await removeSpecimen(parseId(params.id, 'study'), parseId(params.specimen, 'specimen'))));
