import { endpoint } from '#app/http';
import { undoSetups } from '#features/ranking/server/changeSetups';

/** Undoes a merge or a split. */
export const DELETE = endpoint((ask) => [ask.id('change')], undoSetups);
