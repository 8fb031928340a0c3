import type { APIRoute } from 'astro';
import { answer, json } from '#app/http';
import { runOfFile } from '#features/run/server/runView';

/** Whether a file, by the SHA-256 of its bytes, already carries a run. */
export const GET: APIRoute = ({ params }) => answer(async () => json((await runOfFile(params.sha ?? '')) ?? { run_id: null }));
