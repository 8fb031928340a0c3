import { useEffect, useState } from 'react';
import type { LayoutView } from '#features/run/server/layouts';
import type { PreviewLog } from './preview.worker';

/** Layouts that are remembered; null while they are not known, none where they cannot be had. */
export function useLayouts(): LayoutView[] | null {
  const [layouts, setLayouts] = useState<LayoutView[] | null>(null);
  useEffect(() => {
    let current = true;
    void fetch('/api/layouts')
      .then(async (r) => {
        const known = r.ok ? (await r.json()).layouts : [];
        if (current) setLayouts(known);
      })
      .catch(() => {
        if (current) setLayouts([]);
      });
    return () => {
      current = false;
    };
  }, []);
  return layouts;
}

/** Headers by which a file's layout is known; a file without a header has none. */
export const headersOf = (log: PreviewLog | undefined): string[] | null => (!log || log.header_line === null ? null : log.headers);

/** The layout of files with the headers of a log. */
export function layoutFor(layouts: LayoutView[] | null, log: PreviewLog | undefined): LayoutView | null {
  const headers = headersOf(log);
  if (!headers || !layouts) return null;
  return layouts.find((l) => l.headers.length === headers.length && l.headers.every((h, i) => h === headers[i])) ?? null;
}
