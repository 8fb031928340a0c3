import { endpoint } from '#app/http';
import { reportContent } from '#features/report/server/content';
import { changeDraft } from '#features/report/server/draft';

/** The report as it stands, all values at full precision. */
export const GET = endpoint((ask) => [ask.id('study')], reportContent);

/** Stores order and words of its sections. */
export const PUT = endpoint((ask) => [ask.id('study'), ask.json()], changeDraft);
