import { endpoint } from '#app/http';
import { arrivingEvents } from '#features/live/server/arriving';

export const GET = endpoint(
  (ask) => [
    ask.id('instrument'),
    ask.query('what') === 'channels' ? ('channels' as const) : ('all' as const),
    ask.seconds('seconds') ?? 10,
    ask.request.signal,
  ],
  arrivingEvents,
);
