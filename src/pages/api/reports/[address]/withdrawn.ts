import { endpoint } from '#app/http';
import { withdrawReport } from '#features/report/server/withdraw';

/** Withdraws a published version with a reason, or stands by it again. */
export const PUT = endpoint((ask) => [ask.part('address'), ask.json()], withdrawReport);
