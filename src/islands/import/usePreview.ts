import { type Remote, wrap } from 'comlink';
import { useEffect, useRef, useState } from 'react';
import type { Preview, PreviewApi, PreviewRequest } from '../../workers/preview.worker.ts';

/** Previews files in a web worker; an answer that comes after a newer question is dropped. */
export function usePreview(request: PreviewRequest): { preview: Preview | null; busy: boolean } {
  const worker = useRef<{ raw: Worker; api: Remote<PreviewApi> } | null>(null);
  const latest = useRef(0);
  const [preview, setPreview] = useState<Preview | null>(null);
  const [busy, setBusy] = useState(false);

  useEffect(() => () => worker.current?.raw.terminate(), []);
  useEffect(() => {
    const ticket = ++latest.current;
    if (!worker.current) {
      const raw = new Worker(new URL('../../workers/preview.worker.ts', import.meta.url), { type: 'module' });
      worker.current = { raw, api: wrap<PreviewApi>(raw) };
    }
    setBusy(true);
    worker.current.api
      .preview(request)
      .catch((error: Error): Preview => ({ logs: [], reduction: null, lines: [], asks: null, problem: `The files could not be read: ${error.message}` }))
      .then((answer) => {
        if (ticket !== latest.current) return;
        setPreview(answer);
        setBusy(false);
      });
  }, [request]);
  return { preview, busy };
}
