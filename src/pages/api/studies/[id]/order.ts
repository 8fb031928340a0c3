import { endpoint } from '#app/http';
import { changeOrder } from '#features/study/server/order';

/** Draws the order of the mounts, moves or marks one, or puts an order back. */
export const POST = endpoint((ask) => [ask.id('study'), ask.json(4 * 1024 * 1024)], changeOrder);
