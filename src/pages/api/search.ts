import { endpoint } from '#app/http';
import { search } from '#features/bench/server/search';

/** What a text finds: ?q=wick. */
export const GET = endpoint((ask) => [ask.query('q')], search);
