import { createHash } from 'node:crypto';
import { buildId } from './buildId';
import { storeMarker } from './database/pool';

/** Pages that rest on nothing but the store and the day: not the bench, live runs and mounts, which show what goes on. */
const SHARED =
  /^\/(studies|help|reports\/[^/]+|runs\/\d+|studies\/\d+\/(results|report|runs|coolers|ageing|plan)|shelf\/[^/]+(\/\d+)?|tools\/(stack|dose))\/?$/;
/** Bytes of pages that are kept in memory. */
const MOST_BYTES = 48 * 1024 * 1024;

/** A page as it was drawn. */
export interface DrawnPage {
  status: number;
  headers: [string, string][];
  body: Buffer;
  etag: string;
  /** the body compressed, by encoding, made when it is first asked for */
  packed: Map<string, Promise<Buffer>>;
}

/** Pages that are being drawn, and those that were, the one asked for longest ago first. */
const drawing = new Map<string, Promise<DrawnPage>>();
const kept = new Map<string, DrawnPage>();
let bytes = 0;

/** Whether a page rests on nothing but the store and the day. */
export const isShared = (url: URL): boolean => SHARED.test(url.pathname);

/**
 * A page as it was drawn before, where nothing was written into the store since; readers who come while it is drawn wait for the same.
 * @param url its address on this host
 * @param draw draws it
 */
export async function sharedPage(url: URL, draw: () => Promise<Response>): Promise<DrawnPage> {
  // sources that change while they run would be shown as they were
  if (!isShared(url) || buildId() === null) return drawn(await draw());
  const key = `${url.host} ${url.pathname}${url.search} ${new Date().toDateString()} ${await storeMarker()}`;
  const known = kept.get(key);
  if (known) {
    kept.delete(key);
    kept.set(key, known);
    return known;
  }
  const page = drawing.get(key) ?? draw().then(drawn);
  drawing.set(key, page);
  try {
    const finished = await page;
    if (finished.status === 200 && !kept.has(key)) keep(key, finished);
    return finished;
  } finally {
    drawing.delete(key);
  }
}

/** Keeps a page; those asked for longest ago make room for it. */
function keep(key: string, page: DrawnPage): void {
  kept.set(key, page);
  bytes += page.body.length;
  for (const [oldest, { body }] of kept) {
    if (bytes <= MOST_BYTES) return;
    kept.delete(oldest);
    bytes -= body.length;
  }
}

async function drawn(response: Response): Promise<DrawnPage> {
  const body = Buffer.from(await response.arrayBuffer());
  const etag = `"${createHash('sha256').update(body).digest('base64url').slice(0, 22)}"`;
  return { status: response.status, headers: [...response.headers], body, etag, packed: new Map() };
}
