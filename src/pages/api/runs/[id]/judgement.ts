import { endpoint } from '#app/http';
import { judgementView, judgeRun } from '#features/run/server/judge';

/** How a run was judged so far. */
export const GET = endpoint((ask) => [ask.id('run')], judgementView);

/** Accepts, excludes or reopens a run, or sets its window. */
export const POST = endpoint((ask) => [ask.id('run'), ask.json()], judgeRun);
