import { endpoint } from '#app/http';
import { changeSetups } from '#features/ranking/server/changeSetups';

/** Merges set-ups, or splits one. */
export const POST = endpoint((ask) => [ask.json()], changeSetups, 201);
