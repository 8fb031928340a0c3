import { Readable } from 'node:stream';
import type { APIRoute } from 'astro';
import { answer, parseId } from '#app/http';
import { originalFile } from '#features/run/server/runView';

/** An original file of a run, byte for byte. */
export const GET: APIRoute = ({ params }) =>
  answer(async () => {
    const { name, size, pieces } = await originalFile(parseId(params.id, 'run'), Number(params.position));
    return new Response(Readable.toWeb(Readable.from(pieces, { objectMode: false })) as ReadableStream, {
      headers: {
        'content-type': 'application/octet-stream',
        'content-length': String(size),
        'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
      },
    });
  });
