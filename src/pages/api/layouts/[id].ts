import { endpoint } from '#app/http';
import { editLayout, forgetLayout } from '#features/run/server/layouts';

/** Changes the name or the decisions of a layout. */
export const PUT = endpoint(
  (ask) => [ask.id('layout'), ask.json(1024 * 1024)],
  async (id, given) => ({ layouts: await editLayout(id, given) }),
);

/** Takes a layout away. */
export const DELETE = endpoint((ask) => [ask.id('layout')], forgetLayout);
