/**
 * The calendar day of a time, as 2026-06-04 (ISO 8601).
 * @param at_s seconds since 1970
 * @param zoned true for an instant, whose day is that of this machine's zone; false for a time of a clock that named no zone, told as it
 *   was
 */
export function calendarDay(at_s: number, zoned: boolean): string {
  const d = new Date(1000 * at_s);
  if (!zoned) return d.toISOString().slice(0, 10);
  const two = (n: number) => String(n).padStart(2, '0');
  return `${d.getFullYear()}-${two(d.getMonth() + 1)}-${two(d.getDate())}`;
}
