import { addDays, differenceInCalendarDays, getISODay, lightFormat, parseISO } from 'date-fns';

/** The first bench days of a study as calendar days, worked on the given days of the week (1 Monday to 7 Sunday). */
export function benchDates(startOn: string, weekdays: readonly number[], count: number): string[] {
  const worked = weekdays.length > 0 ? weekdays : [1, 2, 3, 4, 5, 6, 7];
  const dates: string[] = [];
  // a day that is not in the calendar has none after it
  if (Number.isNaN(parseISO(startOn).getTime())) return dates;
  for (let day = parseISO(startOn); dates.length < count; day = addDays(day, 1)) {
    if (worked.includes(getISODay(day))) dates.push(lightFormat(day, 'yyyy-MM-dd'));
  }
  return dates;
}

/** Start of each bench day in minutes from the start of the first. */
export const dayStarts = (dates: string[]): number[] =>
  dates.map((d) => 24 * 60 * differenceInCalendarDays(parseISO(d), parseISO(dates[0])));

/** Clock at the bench some minutes after the start of the first bench day. */
export function benchClock(firstDay: string, startTime: string, minutes: number): { date: string; time: string } {
  const [h, m] = startTime.split(':').map(Number);
  const total = Math.round(60 * h + m + minutes);
  const days = Math.floor(total / 1440);
  const rest = total - 1440 * days;
  const two = (v: number) => String(v).padStart(2, '0');
  return { date: lightFormat(addDays(parseISO(firstDay), days), 'yyyy-MM-dd'), time: `${two(Math.floor(rest / 60))}:${two(rest % 60)}` };
}

const WORDS = new Intl.DateTimeFormat('en-GB', { weekday: 'short', day: 'numeric', month: 'short', year: 'numeric' });

/** A calendar day as a person reads it: Tue 2 Jun 2026. */
export const dayWords = (date: string): string => WORDS.format(parseISO(date)).replace(',', '');
