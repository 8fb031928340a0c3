import { endpoint } from '#app/http';
import { deleteThing, deletionView, eraseAll } from '#features/run/server/bin';

/** What would go with a thing that is to be deleted: ?kind=mount&id=7. */
export const GET = endpoint((ask) => [ask.query('kind'), Number(ask.query('id'))], deletionView);

/** Deletes a thing into the bin. */
export const POST = endpoint((ask) => [ask.json()], deleteThing, 201);

/** Deletes all that lies in the bin for good. */
export const DELETE = endpoint(() => [], eraseAll);
