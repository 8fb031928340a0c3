import { defineMiddleware } from 'astro:middleware';
import { followStore, fromStandby, noteWritten } from '#app/database/pool';
import { whileAsked } from '#app/database/reader';
import { isLocalHost, SECURITY_HEADERS } from '#app/headers';
import { isStoreBusy, isStoreGone } from '#app/http';
import { log } from '#app/log';
import { encodingFor, isPackable, pack } from '#app/packed';
import { type DrawnPage, isShared, sharedPage } from '#app/pageCache';
import { PAGE_POLICY } from '#app/pagePolicy';
import { Refusal } from '#app/refusal';

/** Addresses that answer once and share nothing of it with others: what is read for them ends with who asked. */
const READS = /^\/api\/(places|search|runs|studies|mounts|shelf|bin)(\/|$)/;

/** Checks where a request comes from, adds the security headers, and turns errors of pages into pages. */
export const onRequest = defineMiddleware(async (context, next) => {
  const { request } = context;
  const host = request.headers.get('host') ?? '';
  if (!isLocalHost(host)) return new Response('This address is not served here.', { status: 421 });
  if (request.method !== 'GET' && request.method !== 'HEAD' && !isSameOrigin(request, host)) {
    return new Response(JSON.stringify({ error: 'The request comes from another site and is refused.' }), {
      status: 403,
      headers: { 'content-type': 'application/json' },
    });
  }
  let response: Response;
  try {
    const isApi = context.url.pathname.startsWith('/api/');
    // a page is only ever asked for
    if (!isApi && request.method !== 'GET' && request.method !== 'HEAD') response = wrongMethod(request.method);
    else if (isApi || request.method === 'HEAD') {
      response = await sendAnswer(
        request,
        await (READS.test(context.url.pathname) && request.method === 'GET' ? whileAsked(request.signal, next) : next()),
      );
      if (isApi && request.method !== 'GET') await noteWritten();
    } else if (isShared(context.url)) response = await sendPage(request, await fromStandby(() => sharedPage(context.url, next)));
    else response = await sendPage(request, await sharedPage(context.url, next));
    // an address that is there but not for this method is answered without a word
    if (response.status === 404 && response.body === null && isApi) response = wrongMethod(request.method);
  } catch (error) {
    response = await errorPage(error, context.rewrite);
  }
  for (const [name, value] of Object.entries(SECURITY_HEADERS)) response.headers.set(name, value);
  if (response.headers.get('content-type')?.startsWith('text/html')) response.headers.set('content-security-policy', PAGE_POLICY);
  return response;
});

/** Says that an address takes other requests, but not this one. */
const wrongMethod = (method: string): Response =>
  new Response(JSON.stringify({ error: `This address does not take ${method}.` }), {
    status: 405,
    headers: { 'content-type': 'application/json' },
  });

/**
 * A page as a whole: what goes wrong while it is drawn becomes the page that says so. Sent piece by piece it would leave a reader waiting for
 * an end that never comes. A reader who has it already is told so.
 */
async function sendPage(request: Request, page: DrawnPage): Promise<Response> {
  const headers = new Headers(page.headers);
  if (page.status !== 200 || !headers.get('content-type')?.startsWith('text/html'))
    return new Response(new Uint8Array(page.body), { status: page.status, headers });
  headers.set('cache-control', 'private, no-cache');
  headers.set('etag', page.etag);
  headers.set('vary', 'accept-encoding');
  if (request.headers.get('if-none-match') === page.etag) return new Response(null, { status: 304, headers });
  const encoding = encodingFor(request.headers.get('accept-encoding'));
  if (encoding === null || !isPackable('text/html', page.body.length)) return new Response(new Uint8Array(page.body), { headers });
  const packed = page.packed.get(encoding) ?? pack(page.body, encoding);
  page.packed.set(encoding, packed);
  headers.set('content-encoding', encoding);
  return new Response(new Uint8Array(await packed), { headers });
}

/** An answer of an endpoint, packed where that is worth it; streams go as they come. */
async function sendAnswer(request: Request, response: Response): Promise<Response> {
  const type = response.headers.get('content-type');
  const encoding = encodingFor(request.headers.get('accept-encoding'));
  // a file to take along may be large, and is sent piece by piece
  const isFile = response.headers.has('content-disposition');
  if (response.body === null || encoding === null || isFile || !isPackable(type, Number.POSITIVE_INFINITY)) return response;
  const body = Buffer.from(await response.arrayBuffer());
  const headers = new Headers(response.headers);
  const about = { status: response.status, statusText: response.statusText, headers };
  headers.delete('content-length');
  headers.set('vary', 'accept-encoding');
  if (!isPackable(type, body.length)) return new Response(new Uint8Array(body), about);
  headers.set('content-encoding', encoding);
  return new Response(new Uint8Array(await pack(body, encoding)), about);
}

function isSameOrigin(request: Request, host: string): boolean {
  const origin = request.headers.get('origin');
  if (origin !== null) return origin === `http://${host}`;
  // no origin: a program on this machine, unless a browser says otherwise
  const site = request.headers.get('sec-fetch-site');
  return site === null || site === 'same-origin' || site === 'none';
}

async function errorPage(error: unknown, rewrite: (path: string) => Promise<Response>): Promise<Response> {
  if (error instanceof Refusal && error.status === 404) return withStatus(await rewrite('/404'), 404);
  if (isStoreBusy(error)) return withStatus(await rewrite('/busy'), 503, { 'retry-after': '2' });
  if (isStoreGone(error)) {
    void followStore();
    return withStatus(await rewrite('/store-gone'), 503);
  }
  log.error({ err: error }, 'page failed');
  return withStatus(await rewrite('/failed'), 500);
}

const withStatus = (response: Response, status: number, more: Record<string, string> = {}): Response =>
  new Response(response.body, { status, headers: { ...Object.fromEntries(response.headers), ...more } });
