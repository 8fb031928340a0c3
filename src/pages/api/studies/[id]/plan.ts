import { endpoint } from '#app/http';
import { changePlanAndRead } from '#features/run/server/typedRun';
import { planChange } from '#features/study/server/editPlan';
import { planVersion, planView } from '#features/study/server/planView';

/** The plan of a study; 204 where it is still the version that is known. */
export const GET = endpoint(
  (ask) => [ask.id('study'), ask.query('known')],
  async (id, known) => (known === String(await planVersion(id)) ? new Response(null, { status: 204 }) : planView(id)),
);

/** Writes changed fields; those that somebody else changed since are told, not overwritten. */
export const PATCH = endpoint(
  (ask) => [ask.id('study'), ask.json()],
  (id, given) => changePlanAndRead(id, planChange(given)),
);
