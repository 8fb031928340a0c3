import { useEffect, useState } from 'react';
import { writeMoment } from './moments';

/** A moment in the reader's zone and format; in UTC until the page runs there. */
export function Moment({ at, to = 'minute' }: { at: string | Date; to?: 'day' | 'minute' }) {
  const iso = new Date(at).toISOString();
  const [words, setWords] = useState(`${iso.slice(0, 10)}${to === 'day' ? '' : ` ${iso.slice(11, 16)} UTC`}`);
  useEffect(() => setWords(writeMoment(new Date(iso), to)), [iso, to]);
  return (
    <time dateTime={iso} className="whitespace-nowrap">
      {words}
    </time>
  );
}
