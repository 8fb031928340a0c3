import type { APIRoute } from 'astro';
import { answer, jpeg, parseId } from '#server/http';
import { picture } from '#server/mount/photographs';

/** The part of a print, seen straight from above. */
export const GET: APIRoute = ({ params }) => answer(async () => jpeg(await picture(parseId(params.id, 'photograph'), 'view', false)));
