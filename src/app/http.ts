import type { APIContext, APIRoute } from 'astro';
import { LogError } from '#core/signal/logs/types';
import { RuleError } from '#rules/validation';
import { followStore, isDatabaseGone, isDiskFull, isStoreBusy } from './database/pool';
import { hasLeft } from './database/reader';
import { log } from './log';
import { Refusal } from './refusal';
import { storable, storableText } from './storable';

/** True where an error means that the store does not answer, or that too many ask it at once. */
export { isDatabaseGone as isStoreGone, isStoreBusy } from './database/pool';

/** An answer of JSON. */
export const json = (body: unknown, status = 200): Response =>
  new Response(JSON.stringify(body), {
    status,
    headers: { 'content-type': 'application/json; charset=utf-8', 'cache-control': 'no-store' },
  });

/** What an endpoint is asked: its address and its body, each judged where it is read. */
export class Ask {
  constructor(private readonly context: APIContext) {}

  get request(): Request {
    return this.context.request;
  }

  /** A part of the address; empty where there is none. */
  part(name: string): string {
    return this.context.params[name] ?? '';
  }

  /** The number of a thing, from the address. */
  id(what: string, name = 'id'): number {
    return parseId(this.context.params[name], what);
  }

  /** What the query says under a name; null where it says nothing. */
  query(name: string): string | null {
    const said = this.context.url.searchParams.get(name);
    return said === null ? null : storableText(said);
  }

  /** A number of seconds in the query; null where none is given. */
  seconds(name: string): number | null {
    return parseSeconds(this.context.url, name);
  }

  json(mostBytes?: number): Promise<Record<string, unknown>> {
    return readJson(this.request, mostBytes);
  }

  text(mostBytes?: number): Promise<string> {
    return readText(this.request, mostBytes);
  }
}

/**
 * An endpoint: what is asked is parsed, given to a use case, and its result sent as JSON, or as it is where it is a response.
 * Refusals become sentences with their status, a lost store 503, a full disk 507, the rest 500 without inner details.
 */
export const endpoint =
  <Given extends unknown[]>(
    parse: (ask: Ask) => { [K in keyof Given]: Given[K] | Promise<Given[K]> },
    work: (...given: Given) => unknown,
    status = 200,
  ): APIRoute =>
  async (context) => {
    try {
      const given = (await Promise.all(parse(new Ask(context)))) as Given;
      const said = await work(...given);
      return said instanceof Response ? said : json(said, status);
    } catch (error) {
      return errorResponse(error);
    }
  };

/** A file to take along. */
export const attachment = (body: BodyInit, type: string, name: string): Response =>
  new Response(body, { headers: { 'content-type': `${type}; charset=utf-8`, 'content-disposition': `attachment; filename="${name}"` } });

/** An error as a person reads it: refusals with their sentence, a store that is gone as 503, all else as 500 without its text. */
export function errorResponse(error: unknown): Response {
  if (error instanceof Refusal) return json({ error: error.message, ...error.details }, error.status);
  if (error instanceof RuleError) return json({ error: error.message, sentences: error.sentences }, 400);
  if (error instanceof LogError || (error instanceof Error && error.name === 'LogError'))
    return json({ error: (error as Error).message }, 400);
  // nobody is there to hear it
  if (hasLeft(error)) return new Response(null, { status: 499 });
  if (isStoreBusy(error)) {
    const answer = json({ error: 'Too many requests at once. Nothing was saved by this one; it can be repeated in a moment.' }, 429);
    answer.headers.set('retry-after', '2');
    return answer;
  }
  if (isDiskFull(error)) {
    log.error({ err: error }, 'disk full');
    return json({ error: 'The disk of the store is full. Nothing was saved; make room on it, then do it again.' }, 507);
  }
  if (isDatabaseGone(error)) {
    void followStore();
    return json({ error: 'The store does not answer. Nothing was saved by this request; it can be repeated.', store_gone: true }, 503);
  }
  log.error({ err: error }, 'request failed');
  return json({ error: 'Something went wrong on the server; nothing was saved. See the server log.' }, 500);
}

/** Body as text, bounded. */
export async function readText(request: Request, mostBytes = 256 * 1024): Promise<string> {
  if (Number(request.headers.get('content-length') ?? 0) > mostBytes) throw new Refusal('The request is too large.', 413);
  const parts: Uint8Array[] = [];
  let length = 0;
  // a body whose length is not told is taken no further than its limit
  for await (const part of (request.body ?? []) as unknown as AsyncIterable<Uint8Array>) {
    length += part.length;
    if (length > mostBytes) throw new Refusal('The request is too large.', 413);
    parts.push(part);
  }
  return storableText(Buffer.concat(parts).toString('utf8'));
}

/** Body as a JSON object, bounded; anything else is refused in a sentence. */
export async function readJson(request: Request, mostBytes = 256 * 1024): Promise<Record<string, unknown>> {
  const text = await readText(request, mostBytes);
  let body: unknown;
  try {
    body = JSON.parse(text);
  } catch {
    throw new Refusal('The request is not valid JSON.');
  }
  if (!isRecord(body)) throw new Refusal('The request should be a JSON object.');
  return storable(body);
}

/** True for an object with named fields. */
export const isRecord = (value: unknown): value is Record<string, unknown> =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

/** A picture of the store; it never changes under its address but for a new reading, so it is asked after each time. */
export const jpeg = (bytes: Buffer): Response =>
  new Response(new Uint8Array(bytes), { headers: { 'content-type': 'image/jpeg', 'cache-control': 'private, no-cache' } });

/** A form with one large file and what is said about it as JSON; what is too large is refused before it is read. */
export async function readForm(
  request: Request,
  what: string,
  most: number,
  mostForm: number,
): Promise<{ form: FormData; about: unknown }> {
  const length = Number(request.headers.get('content-length') ?? Number.NaN);
  if (!Number.isFinite(length)) throw new Refusal('The length of the upload is missing.');
  if (length > mostForm) throw new Refusal(`The ${what} is larger than the ${most / 1_048_576} MB that are accepted.`, 413);
  const form = await request.formData().catch(() => {
    throw new Refusal(`The upload is not a form with a ${what}; it may have been cut off. Nothing was stored.`);
  });
  let about: unknown;
  try {
    about = JSON.parse(String(form.get('about') ?? '{}'));
  } catch {
    throw new Refusal(`The description of the ${what} is not valid JSON.`);
  }
  return { form, about: storable(about) };
}

/** A positive whole id from a path or query. */
export function parseId(text: string | undefined, what: string): number {
  if (!text || !/^[1-9]\d{0,14}$/.test(text)) throw new Refusal(`"${text ?? ''}" is not the number of a ${what}.`, 404);
  return Number(text);
}

/** A number of seconds in the query of an address; null where none is given. */
export function parseSeconds(url: URL, name: string): number | null {
  const text = url.searchParams.get(name);
  if (text === null) return null;
  const value = Number(text);
  if (text.trim() === '' || !Number.isFinite(value)) throw new Refusal(`"${text}" is not a number of seconds.`);
  return value;
}
