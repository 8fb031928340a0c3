import { endpoint } from '#app/http';
import { runTrace } from '#features/run/server/runTrace';

/** Lines of a run between two times, thinned to the columns of a screen. */
export const GET = endpoint(
  (ask) => [ask.id('run'), ask.seconds('from'), ask.seconds('to'), Math.min(4000, Math.max(50, Math.round(ask.seconds('columns') ?? 600)))],
  runTrace,
);
