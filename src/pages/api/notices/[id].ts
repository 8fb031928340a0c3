import { endpoint } from '#app/http';
import { dismissNotice } from '#features/study/server/notices';

/** Closes a notice of an upgrade. */
export const DELETE = endpoint((ask) => [ask.id('notice')], dismissNotice);
