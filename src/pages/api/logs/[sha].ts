import type { APIRoute } from 'astro';
import { database } from '#db/pool';
import { findRunByFile } from '#db/runs';
import { answer, json } from '#server/http';
import { describeRun } from '#server/importRun';
import { Refusal } from '#server/refusal';

/** Whether a file, by the SHA-256 of its bytes, already carries a run. */
export const GET: APIRoute = ({ params }) =>
  answer(async () => {
    if (!/^[0-9a-f]{64}$/.test(params.sha ?? '')) throw new Refusal('A SHA-256 has 64 hexadecimal digits.');
    const run = await findRunByFile(database(), Buffer.from(params.sha ?? '', 'hex'));
    return json(run ? { run_id: run.id, run: describeRun(run) } : { run_id: null });
  });
