import { forgetSent, pagePath } from './keptInput';

const PAUSE_MS = 2000;

/** What was stored needs no keeping in the browser any more. */
const forgetTyped = (body: unknown) => forgetSent(window.localStorage, pagePath(), body, Date.now());

/**
 * Sends a request that is safe to repeat. While the store or server does not answer it is tried again every two seconds,
 * and the person is told so; any other refusal is told once.
 * @param tell shows a sentence to the person; null takes it away
 * @param refused told the whole body of a refusal, where it carries more than its sentence
 * @param by how it is sent, where not by fetch
 * @returns the answer, or null where it was refused or cancelled
 */
export async function send<T>(
  url: string,
  init: RequestInit,
  tell: (sentence: string | null) => void,
  refused?: (body: Record<string, unknown>) => void,
  by: typeof fetch = fetch,
): Promise<T | null> {
  for (;;) {
    const response = await by(url, init).catch((error: Error) => (error.name === 'AbortError' ? error : null));
    if (response instanceof Error) return null;
    if (response && response.status !== 503 && response.status !== 429) {
      const body = await response.json().catch(() => ({ error: 'The answer of the server could not be read.' }));
      if (response.ok) {
        if (init.method && init.method !== 'GET') forgetTyped(init.body);
        tell(null);
        return body as T;
      }
      tell(body.error ?? 'The server refused without a reason.');
      refused?.(body);
      return null;
    }
    tell(
      response?.status === 429
        ? 'Too many requests at once. What you entered is still here; it is sent again every two seconds.'
        : response
          ? 'The store does not answer. What you entered is still here; it is sent again every two seconds.'
          : 'The server does not answer. What you entered is still here; it is sent again every two seconds.',
    );
    await new Promise((done) => setTimeout(done, PAUSE_MS));
    if (init.signal?.aborted) return null;
  }
}

/** Sends something as JSON; the rest is as in `send`. */
export const sendJson = <T>(
  method: 'POST' | 'PUT' | 'PATCH' | 'DELETE',
  url: string,
  body: unknown,
  tell: (sentence: string | null) => void,
  refused?: (body: Record<string, unknown>) => void,
): Promise<T | null> =>
  send<T>(url, { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }, tell, refused);
