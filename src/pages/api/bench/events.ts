import { endpoint } from '#app/http';
import { benchEvents } from '#features/live/server/hub';

export const GET = endpoint((ask) => [ask.request.signal], benchEvents);
