import { endpoint } from '#app/http';
import { startLive } from '#features/live/server/startLive';

export const POST = endpoint((ask) => [ask.json()], startLive, 201);
