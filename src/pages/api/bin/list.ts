import { endpoint } from '#app/http';
import { binView } from '#features/run/server/bin';

/** What lies in the bin. */
export const GET = endpoint(() => [], binView);
