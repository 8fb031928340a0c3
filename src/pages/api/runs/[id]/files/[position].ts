import type { APIRoute } from 'astro';
import { readLogFile } from '#db/logFiles';
import { database } from '#db/pool';
import { answer, parseId } from '#server/http';
import { Refusal } from '#server/refusal';

/** An original file of a run, byte for byte. */
export const GET: APIRoute = ({ params }) =>
  answer(async () => {
    const file = await readLogFile(database(), parseId(params.id, 'run'), Number(params.position));
    if (!file) throw new Refusal('The run has no such file.', 404);
    return new Response(new Uint8Array(file.bytes), {
      headers: { 'content-type': 'application/octet-stream', 'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(file.name)}` },
    });
  });
