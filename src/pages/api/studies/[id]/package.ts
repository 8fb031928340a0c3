import { Readable } from 'node:stream';
import { endpoint } from '#app/http';
import { writePackage } from '#features/exchange/server/writePackage';
import { renderFiles } from '#features/report/view/published/renderPublished.tsx';

/** A study as a package that anybody can read and check; without photographs where `photographs=no` asks for that, and without samples where `samples=no` does. */
export const GET = endpoint(
  (ask) => [ask.id('study'), ask.query('photographs') !== 'no', ask.query('samples') !== 'no'],
  async (id: number, photographs: boolean, samples: boolean) => {
    const { name, stream } = await writePackage(id, { photographs, samples, draw: renderFiles });
    return new Response(Readable.toWeb(stream) as ReadableStream, {
      headers: { 'content-type': 'application/zip', 'cache-control': 'no-store', 'content-disposition': `attachment; filename="${name}"` },
    });
  },
);
