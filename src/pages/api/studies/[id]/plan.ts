import type { APIRoute } from 'astro';
import { answer, json, parseId, readJson } from '#app/http';
import { Refusal } from '#app/refusal';
import { changePlan } from '#features/study/server/editPlan';
import { planVersion, planView } from '#features/study/server/planView';

/** The plan of a study; 204 where it is still the version that is known. */
export const GET: APIRoute = ({ params, url }) =>
  answer(async () => {
    const id = parseId(params.id, 'study');
    if (url.searchParams.get('known') === String(await planVersion(id))) return new Response(null, { status: 204 });
    return json(await planView(id));
  });

/** Writes changed fields; those that somebody else changed since are told, not overwritten. */
export const PATCH: APIRoute = ({ params, request }) =>
  answer(async () => {
    const { base, changes, insist } = await readJson(request);
    if (!Number.isInteger(base)) throw new Refusal('Say which version of the plan was changed.');
    if (typeof changes !== 'object' || changes === null || Array.isArray(changes)) throw new Refusal('The changes are an object of fields.');
    const forced = Array.isArray(insist) ? insist.filter((f): f is string => typeof f === 'string') : [];
    return json(await changePlan(parseId(params.id, 'study'), { base: base as number, changes: changes as Record<string, unknown>, insist: forced }));
  });
