/**
 * A signal that goes off with another or after a time, for one piece of work; older Node has none of its own.
 * @returns what the work gave; the signals are let go of
 */
export async function within<T>(ms: number, outer: AbortSignal, work: (signal: AbortSignal) => Promise<T>): Promise<T> {
  const control = new AbortController();
  const stop = () => control.abort();
  const timer = setTimeout(stop, ms);
  outer.addEventListener('abort', stop, { once: true });
  try {
    return await work(control.signal);
  } finally {
    clearTimeout(timer);
    outer.removeEventListener('abort', stop);
  }
}
