import { endpoint } from '#app/http';
import { runOfFile } from '#features/run/server/runView';

/** Whether a file, by the SHA-256 of its bytes, already carries a run. */
export const GET = endpoint(
  (ask) => [ask.part('sha')],
  async (sha) => (await runOfFile(sha)) ?? { run_id: null },
);
