const HEARTBEAT_MS = 15_000;

/** A stream of server-sent events that ends with the page. */
export function eventStream(signal: AbortSignal, begin: (send: (event: string, data: unknown) => void) => () => void): Response {
  const encoder = new TextEncoder();
  let end = () => {};
  const body = new ReadableStream({
    start(controller) {
      const write = (text: string) => {
        try {
          controller.enqueue(encoder.encode(text));
        } catch {
          end();
        }
      };
      const stop = begin((event, data) => write(`event: ${event}\ndata: ${JSON.stringify(data)}\n\n`));
      const beat = setInterval(() => write(': here\n\n'), HEARTBEAT_MS);
      end = () => {
        clearInterval(beat);
        stop();
        end = () => {};
      };
      signal.addEventListener('abort', () => end());
    },
    cancel: () => end(),
  });
  return new Response(body, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' } });
}
