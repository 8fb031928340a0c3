import { type Remote, wrap } from 'comlink';
import { useCallback, useEffect, useRef } from 'react';
import type { PreviewApi } from './preview.worker';

/** The web worker that reads files; it begins when it is first asked, and ends with who asked. */
export function usePreviewWorker(): () => Remote<PreviewApi> {
  const held = useRef<{ raw: Worker; api: Remote<PreviewApi> } | null>(null);
  useEffect(
    () => () => {
      held.current?.raw.terminate();
      held.current = null;
    },
    [],
  );
  return useCallback(() => {
    if (!held.current) {
      const raw = new Worker(new URL('./preview.worker.ts', import.meta.url), { type: 'module' });
      held.current = { raw, api: wrap<PreviewApi>(raw) };
    }
    return held.current.api;
  }, []);
}
