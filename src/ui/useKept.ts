import { useEffect, useRef, useState } from 'react';
import { KEPT_MS } from './keptInput';

const PREFIX = 'work:';

function readKept<T>(key: string): T | null {
  try {
    const kept = JSON.parse(localStorage.getItem(PREFIX + key) ?? 'null');
    return kept && Date.now() - kept.at < KEPT_MS ? (kept.value as T) : null;
  } catch {
    return null;
  }
}

/**
 * State of a sheet that is kept in the browser while it is worked on, so that closing it or losing the browser loses nothing.
 * @param key what it is the state of; null where it is not kept
 * @returns the state, how it is set, how it is forgotten once it is stored, and whether it came back from before
 */
export function useKept<T>(key: string | null, initial: T | (() => T)) {
  const [came] = useState(() => (key === null ? null : readKept<T>(key)));
  const [value, setValue] = useState<T>(came ?? initial);
  const first = useRef(value);
  const isForgotten = useRef(false);
  useEffect(() => {
    if (key === null || isForgotten.current || value === first.current) return;
    try {
      localStorage.setItem(PREFIX + key, JSON.stringify({ value, at: Date.now() }));
    } catch {
      // the browser keeps no more; what is typed stays on the sheet
    }
  }, [key, value]);
  const forget = () => {
    isForgotten.current = true;
    if (key !== null) localStorage.removeItem(PREFIX + key);
  };
  return [value, setValue, forget, came !== null] as const;
}
