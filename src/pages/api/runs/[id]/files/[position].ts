import { Readable } from 'node:stream';
import { endpoint } from '#app/http';
import { originalFile } from '#features/run/server/runView';

/** An original file of a run, byte for byte. */
export const GET = endpoint(
  (ask) => [ask.id('run'), Number(ask.part('position'))],
  async (id, position) => {
    const { name, size, pieces } = await originalFile(id, position);
    return new Response(Readable.toWeb(Readable.from(pieces, { objectMode: false })) as ReadableStream, {
      headers: {
        'content-type': 'application/octet-stream',
        'content-length': String(size),
        'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}`,
      },
    });
  },
);
