import type { APIRoute } from 'astro';
import { answer, json, parseId } from '#app/http';
import { unpinNote } from '#features/run/server/judge';

/** Takes a note away. */
export const DELETE: APIRoute = ({ params }) => answer(async () => json(await unpinNote(parseId(params.id, 'run'), parseId(params.note, 'note'))));
