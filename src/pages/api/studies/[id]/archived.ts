import { endpoint } from '#app/http';
import { archiveStudy } from '#features/study/server/copyStudy';

/** Archives a study, or takes it up again. */
export const PUT = endpoint((ask) => [ask.id('study'), ask.json()], archiveStudy);
