import pg from 'pg';
import { database } from '#app/database/pool';
import { storeUrl } from '#app/database/servers';
import { eventStream } from '#app/eventStream';
import { getBatch, type LiveNews } from '#features/live/store/live';
import { type LiveLane, type LiveView, liveLanes, liveView, type SentReadings, sendable } from './liveView';

const AGAIN_MS = 1000;
/** States come many a second; a page is told of the newest at this pace. */
const PACE_MS = 120;
const KEPT = 64;

type Listener = (news: LiveNews) => void;

/** News of the store's live runs for the pages that this process serves: one connection listens for all of them. */
const listeners = new Set<Listener>();
let client: pg.Client | null = null;
let connecting = false;

function listen(listener: Listener): () => void {
  listeners.add(listener);
  void connect();
  return () => {
    listeners.delete(listener);
    if (listeners.size === 0) {
      void client?.end().catch(() => {});
      client = null;
    }
  };
}

async function connect(): Promise<void> {
  if (client || connecting || listeners.size === 0) return;
  connecting = true;
  const fresh = new pg.Client({ connectionString: storeUrl(), connectionTimeoutMillis: 4000 });
  let isGone = false;
  const gone = () => {
    isGone = true;
    if (client !== fresh) return;
    client = null;
    setTimeout(() => void connect(), AGAIN_MS);
  };
  // before it is connected: an end that comes at once would find nobody who hears it, and end the process
  fresh.on('error', gone).on('end', gone);
  try {
    await fresh.connect();
    fresh.on('notification', ({ payload }) => {
      const news = JSON.parse(payload ?? '{}') as LiveNews;
      for (const l of listeners) l(news);
    });
    await fresh.query('listen live');
    if (isGone) throw new Error('Connection terminated');
    client = fresh;
    // pages ask for what they missed
    for (const l of listeners) l({ live: 0, state: true });
  } catch {
    setTimeout(() => void connect(), AGAIN_MS);
  } finally {
    connecting = false;
  }
}

/** Batches that several pages ask for at once are read once. */
const batches = new Map<number, Promise<SentReadings | null>>();

function readBatch(id: number): Promise<SentReadings | null> {
  const known = batches.get(id);
  if (known) return known;
  const read = getBatch(database(), id).then((b) => b && sendable(b));
  batches.set(id, read);
  if (batches.size > KEPT) batches.delete(batches.keys().next().value as number);
  return read;
}

/** Calls at most once in a while, and always once after the last request. */
function paced(work: () => Promise<void>): () => void {
  let timer: NodeJS.Timeout | null = null;
  let last = 0;
  return () => {
    if (timer) return;
    timer = setTimeout(
      () => {
        timer = null;
        last = Date.now();
        work().catch(() => {});
      },
      Math.max(0, last + PACE_MS - Date.now()),
    );
  };
}

/** State and readings of one live run as they come. */
export const liveEvents = (id: number, signal: AbortSignal): Response =>
  eventStream(signal, (send) => {
    const tell = paced(async () => send('state', (await liveView(id)) satisfies LiveView));
    tell();
    return listen((news) => {
      if (news.live === 0) send('again', {});
      if (news.live === 0 || (news.live === id && news.state)) tell();
      if (news.live === id && news.batch !== undefined) {
        readBatch(news.batch)
          .then((readings) => readings && send('readings', readings))
          .catch(() => {});
      }
    });
  });

/** All rigs as they go on. */
export const benchEvents = (signal: AbortSignal): Response =>
  eventStream(signal, (send) => {
    const tell = paced(async () => send('lanes', (await liveLanes()) satisfies LiveLane[]));
    tell();
    return listen((news) => {
      if (news.live === 0 || news.state) tell();
    });
  });
