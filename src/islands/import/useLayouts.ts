import { useEffect, useState } from 'react';
import type { LayoutView } from '#server/run/layouts';

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

/** The layout of files with these headers. */
export function layoutFor(layouts: LayoutView[] | null, headers: string[] | null): LayoutView | null {
  if (!headers || !layouts) return null;
  return layouts.find((l) => l.headers.length === headers.length && l.headers.every((h, i) => h === headers[i])) ?? null;
}
