interface Shared {
  event: string;
  data: string;
}

/** Tells whether the stream is there; sent between the tabs like its events. */
const OPEN = '#open';

/**
 * Listens to server-sent events that all tabs of this browser share: one of them holds the connection, for a browser keeps but six to a
 * host, and passes on what comes. When that tab goes, the next one takes its place.
 * @param names events that are told
 * @param onOpen told when the stream is there, and when it is lost
 * @returns ends the listening
 */
export function listenShared(
  url: string,
  names: string[],
  onEvent: (name: string, data: unknown) => void,
  onOpen: (open: boolean) => void = () => {},
): () => void {
  const channel = new BroadcastChannel(url);
  const control = new AbortController();
  let source: EventSource | null = null;
  const tell = ({ event, data }: Shared) => {
    if (event === OPEN) onOpen(data === 'yes');
    else onEvent(event, JSON.parse(data));
  };
  const share = (shared: Shared) => {
    channel.postMessage(shared);
    tell(shared);
  };
  channel.onmessage = (e) => tell(e.data as Shared);
  navigator.locks
    .request(url, { signal: control.signal }, async () => {
      const stream = new EventSource(url);
      source = stream;
      for (const event of names) stream.addEventListener(event, (e) => share({ event, data: e.data }));
      stream.onopen = () => share({ event: OPEN, data: 'yes' });
      stream.onerror = () => share({ event: OPEN, data: stream.readyState === EventSource.OPEN ? 'yes' : 'no' });
      await new Promise<void>((ended) => control.signal.addEventListener('abort', () => ended()));
    })
    .catch(() => {
      // the tab left before its turn came
    });
  return () => {
    control.abort();
    source?.close();
    channel.close();
  };
}
