import type { APIRoute } from 'astro';
import { answer, json, parseId } from '#server/http';
import { unpinNote } from '#server/run/judge';

/** Takes a note away. */
export const DELETE: APIRoute = ({ params }) => answer(async () => json(await unpinNote(parseId(params.id, 'run'), parseId(params.note, 'note'))));
