import { endpoint } from '#app/http';
import { changeOrigin } from '#features/study/server/changeOrigin';

/** Says of a study that came in whether this lab measured it. */
export const PUT = endpoint((ask) => [ask.id('study'), ask.json()], changeOrigin);
