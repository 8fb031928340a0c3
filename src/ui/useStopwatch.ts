import { useEffect, useState } from 'react';

/** A stopwatch whose time is the text of a field; it can be typed over. */
export function useStopwatch() {
  const [began, setBegan] = useState<number | null>(null);
  const [text, setText] = useState('');
  useEffect(() => {
    if (began === null) return;
    const tick = () => {
      const s = Math.round((Date.now() - began) / 1000);
      setText(`${Math.floor(s / 60)}:${String(s % 60).padStart(2, '0')}`);
    };
    const timer = setInterval(tick, 500);
    return () => clearInterval(timer);
  }, [began]);
  return {
    ...{ text, isRunning: began !== null },
    start: () => setBegan(Date.now()),
    stop: () => setBegan(null),
    set: (typed: string) => {
      setBegan(null);
      setText(typed);
    },
    clear: () => {
      setBegan(null);
      setText('');
    },
  };
}
