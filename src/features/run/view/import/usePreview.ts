import { useEffect, useRef, useState } from 'react';
import { useWorker } from '#ui/useWorker';
import type { Preview, PreviewApi, PreviewRequest, PreviewResults } from './preview.worker';

/** Previews files in a web worker; an answer that comes after a newer question is dropped. */
export function usePreview(request: PreviewRequest | null): { preview: Preview | null; busy: boolean } {
  const { ask } = useWorker<PreviewApi>('preview');
  const latest = useRef(0);
  const [preview, setPreview] = useState<Preview | null>(null);
  const [busy, setBusy] = useState(true);
  useEffect(() => {
    if (!request) return;
    const ticket = ++latest.current;
    setBusy(true);
    const failed = (error: Error): Preview => ({
      ...{ logs: [], clocks: [], reduction: null, lines: [], asks: null, asked_of: null },
      problem: `The files could not be read: ${error.message}`,
    });
    void ask()
      .preview(request)
      .catch(failed)
      .then((answer) => {
        if (ticket !== latest.current) return;
        setPreview(answer);
        setBusy(false);
      });
  }, [request, ask]);
  return { preview, busy };
}

/** What results files say, each read in the web worker. */
export function useResults(files: File[]): PreviewResults[] {
  const { ask } = useWorker<PreviewApi>('preview');
  const [results, setResults] = useState<PreviewResults[]>([]);
  useEffect(() => {
    let current = true;
    void Promise.all(files.map((f) => ask().results(f))).then((read) => {
      if (current) setResults(read);
    });
    return () => {
      current = false;
    };
  }, [files, ask]);
  return results;
}
