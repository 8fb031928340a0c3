import { useEffect, useState } from 'react';

/** Files beyond this size are not hashed in the browser; the server tells of a repetition when they arrive. */
const MOST_HASHED = 32 * 1024 * 1024;

/** The run that already rests on a file, if any. */
export function useKnownRun(file: File | undefined): { run_id: number; run: string } | null {
  const [known, setKnown] = useState<{ run_id: number; run: string } | null>(null);
  useEffect(() => {
    setKnown(null);
    if (!file || file.size > MOST_HASHED) return;
    let current = true;
    const ask = async () => {
      const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', await file.arrayBuffer()));
      const sha = Array.from(digest, (b) => b.toString(16).padStart(2, '0')).join('');
      const response = await fetch(`/api/logs/${sha}`).catch(() => null);
      if (!response?.ok) return;
      const body = await response.json();
      if (current && body.run_id) setKnown(body);
    };
    void ask();
    return () => {
      current = false;
    };
  }, [file]);
  return known;
}
