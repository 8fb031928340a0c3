import type { APIRoute } from 'astro';
import { answer, parseId } from '#server/http';
import { originalFile } from '#server/runView';

/** An original file of a run, byte for byte. */
export const GET: APIRoute = ({ params }) =>
  answer(async () => {
    const { name, bytes } = await originalFile(parseId(params.id, 'run'), Number(params.position));
    return new Response(new Uint8Array(bytes), {
      headers: { 'content-type': 'application/octet-stream', 'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(name)}` },
    });
  });
