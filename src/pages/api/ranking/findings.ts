import { endpoint } from '#app/http';
import { labFindings } from '#features/ranking/server/labFindings';

/** Set-ups whose reference does not read as it did, as far as that is news. */
export const GET = endpoint(() => [], labFindings);
