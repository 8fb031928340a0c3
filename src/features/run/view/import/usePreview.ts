import { useEffect, useRef, useState } from 'react';
import type { Preview, PreviewRequest, PreviewResults } from './preview.worker';
import { usePreviewWorker } from './usePreviewWorker';

/** Previews files in a web worker; an answer that comes after a newer question is dropped. */
export function usePreview(request: PreviewRequest | null): { preview: Preview | null; busy: boolean } {
  const worker = usePreviewWorker();
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
    void worker()
      .preview(request)
      .catch(failed)
      .then((answer) => {
        if (ticket !== latest.current) return;
        setPreview(answer);
        setBusy(false);
      });
  }, [request, worker]);
  return { preview, busy };
}

/** What results files say, each read in the web worker. */
export function useResults(files: File[]): PreviewResults[] {
  const worker = usePreviewWorker();
  const [results, setResults] = useState<PreviewResults[]>([]);
  useEffect(() => {
    let current = true;
    void Promise.all(files.map((f) => worker().results(f))).then((read) => {
      if (current) setResults(read);
    });
    return () => {
      current = false;
    };
  }, [files, worker]);
  return results;
}
