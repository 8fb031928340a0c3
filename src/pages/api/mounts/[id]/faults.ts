import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#app/http';
import { reportFault, settleFault } from '#features/mount/server/faults';

/** Reports a fault of a mount. */
export const POST: APIRoute = ({ params, request }) => answer(async () => json(await reportFault(parseId(params.id, 'mount'), await readJson(request)), 201));

/** Says what was done about a fault. */
export const PUT: APIRoute = ({ params, request }) => answer(async () => json(await settleFault(parseId(params.id, 'mount'), await readJson(request))));
