import { type Remote, wrap } from 'comlink';
import { useCallback, useEffect, useRef } from 'react';

interface RunningWorker<Api> {
  api: Remote<Api>;
  end: () => void;
}

/** Starts a web worker; what it is asked before its subject is there waits. */
function startWorker<Api>(subject: string): RunningWorker<Api> {
  const raw = new Worker(new URL('../worker.ts', import.meta.url), { type: 'module' });
  const opened = wrap<{ open(subject: string): Record<string, (...given: unknown[]) => unknown> }>(raw).open(subject);
  const call =
    (_: object, name: string) =>
    async (...given: unknown[]) =>
      (await opened)[name](...given);
  return { api: new Proxy({}, { get: call }) as Remote<Api>, end: () => raw.terminate() };
}

/**
 * The web worker of a subject: it begins when it is first asked, and ends with who asked.
 * @param subject name in `src/worker.ts`
 * @param prepare told the worker when it begins
 * @returns `ask` begins it ahead of a question or asks it; `end` stops it with what it is doing, and the next question begins a new one
 */
export function useWorker<Api>(subject: string, prepare?: (api: Remote<Api>) => unknown): { ask: () => Remote<Api>; end: () => void } {
  const held = useRef<RunningWorker<Api> | null>(null);
  const first = useRef(prepare);
  first.current = prepare;
  const end = useCallback(() => {
    held.current?.end();
    held.current = null;
  }, []);
  useEffect(() => end, [end]);
  const ask = useCallback(() => {
    if (!held.current) {
      held.current = startWorker<Api>(subject);
      void first.current?.(held.current.api);
    }
    return held.current.api;
  }, [subject]);
  return { ask, end };
}
