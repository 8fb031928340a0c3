import { endpoint } from '#app/http';
import { liveReadings } from '#features/live/server/liveView';

export const GET = endpoint((ask) => [ask.id('live run')], liveReadings);
