/** Waits so long, or until a signal goes off. */
export const sleep = (ms: number, signal: AbortSignal): Promise<void> =>
  ms <= 0 || signal.aborted
    ? Promise.resolve()
    : new Promise((done) => {
        const end = () => {
          clearTimeout(timer);
          signal.removeEventListener('abort', end);
          done();
        };
        const timer = setTimeout(end, ms);
        signal.addEventListener('abort', end, { once: true });
      });
