/** How moments are written here: by the lab's settings, or those of this browser. */
export interface ReadingSettings {
  dates?: string;
  clock?: string;
  zone?: string;
  sound?: string;
}

/** Key of this browser's own settings in its storage. */
export const READING_KEY = 'reading';

/** What this page goes by, as its frame wrote it on the root element. */
const settings = (): ReadingSettings => document.documentElement.dataset;

/**
 * A moment in the reader's zone and format.
 * @param to the day alone, or the minute
 */
export function writeMoment(at: Date, to: 'day' | 'minute' = 'minute', by: ReadingSettings = settings()): string {
  const zone = by.zone ? { timeZone: by.zone } : {};
  const parts = (options: Intl.DateTimeFormatOptions) =>
    Object.fromEntries(new Intl.DateTimeFormat('en-US', { ...options, ...zone }).formatToParts(at).map((p) => [p.type, p.value]));
  const n = parts({ year: 'numeric', month: '2-digit', day: '2-digit', hour: '2-digit', minute: '2-digit', hourCycle: 'h23' });
  const name = parts({ month: 'short' }).month;
  const day =
    by.dates === 'dmy'
      ? `${Number(n.day)} ${name} ${n.year}`
      : by.dates === 'mdy'
        ? `${name} ${Number(n.day)}, ${n.year}`
        : `${n.year}-${n.month}-${n.day}`;
  if (to === 'day') return day;
  const hour = Number(n.hour);
  const time = by.clock === '12' ? `${hour % 12 || 12}:${n.minute} ${hour < 12 ? 'AM' : 'PM'}` : `${n.hour}:${n.minute}`;
  return `${day} ${time}`;
}
