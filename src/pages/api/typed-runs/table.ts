import { endpoint } from '#app/http';
import { storeTable } from '#features/run/server/typedTable';

/** Stores a table of readings, all rows or none. */
export const POST = endpoint((ask) => [ask.json()], storeTable, 201);
