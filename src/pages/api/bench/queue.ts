import { endpoint } from '#app/http';
import { benchQueue } from '#features/bench/server/queue';

export const GET = endpoint(() => [], benchQueue);
