import { defineMiddleware } from 'astro:middleware';
import { SECURITY_HEADERS } from '#app/headers';
import { isStoreGone } from '#app/http';
import { log } from '#app/log';
import { Refusal } from '#app/refusal';

const LOCAL_HOST = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/;

/** Checks where a request comes from, adds the security headers, and turns errors of pages into pages. */
export const onRequest = defineMiddleware(async (context, next) => {
  const { request } = context;
  const host = request.headers.get('host') ?? '';
  // a foreign name that resolves to this machine must not reach the store
  if (!LOCAL_HOST.test(host)) return new Response('This address is not served here.', { status: 421 });
  if (request.method !== 'GET' && request.method !== 'HEAD' && !isSameOrigin(request, host)) {
    return new Response(JSON.stringify({ error: 'The request comes from another site and is refused.' }), {
      status: 403,
      headers: { 'content-type': 'application/json' },
    });
  }
  let response: Response;
  try {
    response = await whole(await next());
    // an address that is there but not for this method is answered without a word
    if (response.status === 404 && response.body === null && context.url.pathname.startsWith('/api/'))
      response = wrongMethod(request.method);
  } catch (error) {
    response = await errorPage(error, context.rewrite);
  }
  for (const [name, value] of Object.entries(SECURITY_HEADERS)) response.headers.set(name, value);
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
 * an end that never comes.
 */
async function whole(response: Response): Promise<Response> {
  if (!response.headers.get('content-type')?.startsWith('text/html')) return response;
  return new Response(await response.text(), { status: response.status, statusText: response.statusText, headers: response.headers });
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
  if (isStoreGone(error)) return withStatus(await rewrite('/store-gone'), 503);
  log.error({ err: error }, 'page failed');
  return withStatus(await rewrite('/failed'), 500);
}

const withStatus = (response: Response, status: number): Response => new Response(response.body, { status, headers: response.headers });
