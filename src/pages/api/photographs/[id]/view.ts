import type { APIRoute } from 'astro';
import { answer, jpeg, parseId } from '#app/http';
import { picture } from '#features/mount/server/photographs';

/** The part of a print, seen straight from above. */
export const GET: APIRoute = ({ params }) => answer(async () => jpeg(await picture(parseId(params.id, 'photograph'), 'view', false)));
