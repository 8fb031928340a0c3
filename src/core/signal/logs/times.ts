import { sortedKnown } from '#core/stats/quantiles';
import { usualStep } from './clock';
import type { TimeFormat } from './types';
import { monthOf } from './words';

const ISO = /^(\d{4})[-/](\d{1,2})[-/](\d{1,2})(?:[T ]+(\d{1,2}):(\d{2})(?::(\d{2}(?:[.,]\d+)?))?)?\s*(Z|[+−-]\d{2}(?::?\d{2})?)?$/i;
const COMPACT = /^(\d{4})(\d{2})(\d{2})[T ]?(\d{2})(\d{2})(\d{2}(?:[.,]\d+)?)?\s*(Z|[+−-]\d{2}(?::?\d{2})?)?$/i;
const DOTTED = /^(\d{1,2})\.(\d{1,2})\.(\d{4}|\d{2})(?:,?\s+(\d{1,2}):(\d{2})(?::(\d{2}(?:[.,]\d+)?))?)?$/;
const SLASHED = /^(\d{1,2})[/-](\d{1,2})[/-](\d{4}|\d{2})(?:,?\s+(\d{1,2}):(\d{2})(?::(\d{2}(?:[.,]\d+)?))?\s*([ap])?\.?m?\.?)?$/i;
const CLOCK = /^(\d{1,4}):(\d{2}):(\d{2}(?:[.,]\d+)?)\s*([ap])?\.?m?\.?$/i;

/** 13 May 2026 09:12:00, 13-mai-26, May 13, 2026 9:12 AM, 2026年5月13日: a month by its name. */
const CLOCK_BEHIND = '(?:,?[\\sT]+(?:(?:at|um|à|a las|alle|às)\\s+)?(\\d{1,2}):(\\d{2})(?::(\\d{2}(?:[.,]\\d+)?))?\\s*([ap])?\\.?m?\\.?)?$';
const DAY_NAME = "(?:[\\p{L}.']+,?\\s+)?";
const DAY_MONTH_NAME = new RegExp(
  `^${DAY_NAME}(\\d{1,2})(?:\\.|st|nd|rd|th)?[\\s-]+(?:de\\s+)?([\\p{L}]{3,12})\\.?,?[\\s-]+(?:de\\s+)?(\\d{4}|\\d{2})${CLOCK_BEHIND}`,
  'iu',
);
const MONTH_NAME_DAY = new RegExp(
  `^${DAY_NAME}([\\p{L}]{3,12})\\.?[\\s-]+(\\d{1,2})(?:st|nd|rd|th)?,?[\\s-]+(\\d{4})${CLOCK_BEHIND}`,
  'iu',
);
const YEAR_SIGN = new RegExp(`^(\\d{4})\\s*[年년]\\s*(\\d{1,2})\\s*[月월]\\s*(\\d{1,2})\\s*[日일]${CLOCK_BEHIND}`, 'iu');

/** A time as it stands in one cell, before the whole column decides how it is to be read. */
export type Form = 'iso' | 'compact' | 'dotted' | 'slashed' | 'named' | 'clock' | 'number';

export interface ParsedTimes {
  format: TimeFormat;
  /** seconds: since 1970 for absolute formats, else on the file's own clock; NaN where a cell is no time */
  seconds: Float64Array;
  absolute: boolean;
  zoned: boolean;
}

/** A column of day/month dates that can be read both ways. */
export class AmbiguousDates extends Error {}

/** True where the text could be a time of day or a date, with or without one. Bare numbers do not count. */
export function looksLikeTime(cell: string): boolean {
  const text = cell.trim();
  return formOf(text) !== null;
}

export function isDateOnly(cell: string): boolean {
  const text = cell.trim();
  return looksLikeTime(text) && !text.includes(':');
}

export const isTimeOfDay = (cell: string): boolean => CLOCK.test(cell.trim());

function formOf(cell: string): Form | null {
  const text = cell.trim();
  if (ISO.test(text)) return 'iso';
  if (/[T ]/i.test(text) && COMPACT.test(text)) return 'compact';
  if (DOTTED.test(text)) return 'dotted';
  if (SLASHED.test(text)) return 'slashed';
  if (CLOCK.test(text)) return 'clock';
  if (!Number.isNaN(namedSeconds(text))) return 'named';
  return null;
}

/** What one cell says: its seconds with the day first and with the month first where the form leaves that open, else the same twice. */
interface CellTime {
  seconds: number;
  month_first: number;
  zoned: boolean;
  /** with AM or PM */
  halves: boolean;
}

/** Reads one cell of a given form; NaN where it is of another. */
export function timeOfCell(cell: string, form: Exclude<Form, 'number'>): CellTime {
  const text = cell.trim();
  const of = (seconds: number, zoned = false, halves = false): CellTime => ({ seconds, month_first: seconds, zoned, halves });
  if (form === 'iso') {
    const m = ISO.exec(text);
    return m ? of(utc(m[1], m[2], m[3], m[4], m[5], m[6]) - zoneSeconds(m[7]), Boolean(m[7])) : of(Number.NaN);
  }
  if (form === 'compact') {
    const m = COMPACT.exec(text);
    return m ? of(utc(m[1], m[2], m[3], m[4], m[5], m[6]) - zoneSeconds(m[7]), Boolean(m[7])) : of(Number.NaN);
  }
  if (form === 'named') return of(namedSeconds(text));
  if (form === 'dotted') {
    const m = DOTTED.exec(text);
    return of(m ? utc(m[3], m[2], m[1], m[4], m[5], m[6]) : Number.NaN);
  }
  if (form === 'clock') {
    const m = CLOCK.exec(text);
    return m
      ? of(Number(hour24(m[1], m[4])) * 3600 + Number(m[2]) * 60 + Number(m[3].replace(',', '.')), false, Boolean(m[4]))
      : of(Number.NaN);
  }
  const m = SLASHED.exec(text);
  if (!m) return of(Number.NaN);
  const at = (month: string, day: string) => utc(m[3], month, day, hour24(m[4], m[7]), m[5], m[6]);
  return { seconds: at(m[2], m[1]), month_first: at(m[1], m[2]), zoned: false, halves: Boolean(m[7]) };
}

/** Seconds of a date whose month is a name or that has the signs for year, month and day; NaN where it is none. */
function namedSeconds(text: string): number {
  if (!/\p{L}/u.test(text) || !/\d/.test(text) || text.length > 60) return Number.NaN;
  const signs = YEAR_SIGN.exec(text);
  if (signs) return utc(signs[1], signs[2], signs[3], hour24(signs[4], signs[7]), signs[5], signs[6]);
  const dayFirst = DAY_MONTH_NAME.exec(text);
  const m = dayFirst ?? MONTH_NAME_DAY.exec(text);
  if (!m) return Number.NaN;
  const [day, name] = dayFirst ? [m[1], m[2]] : [m[2], m[1]];
  const month = monthOf(name);
  return month === null ? Number.NaN : utc(m[3], String(month), day, hour24(m[4], m[7]), m[5], m[6]);
}

/** Form that most of the cells share; null where fewer than half are times. */
export function commonForm(cells: string[]): Form | null {
  const counts = new Map<Form, number>();
  const step = Math.max(1, Math.floor(cells.length / 200));
  let seen = 0;
  for (let i = 0; i < cells.length; i += step) {
    if (cells[i].trim() === '') continue;
    seen++;
    const form = formOf(cells[i]) ?? (/^[-+−]?[\d.,]+(e[-+]?\d+)?$/i.test(cells[i].trim()) ? 'number' : null);
    if (form) counts.set(form, (counts.get(form) ?? 0) + 1);
  }
  const best = [...counts].sort((a, b) => b[1] - a[1])[0];
  return best && best[1] >= 0.5 * seen ? best[0] : null;
}

/** Hour with AM or PM; 12 AM is midnight, 12 PM noon. */
function hour24(hour: string | undefined, half: string | undefined): string | undefined {
  if (!hour || !half) return hour;
  return String((Number(hour) % 12) + (half.toLowerCase() === 'p' ? 12 : 0));
}

function utc(year: string, month: string, day: string, hour = '0', minute = '0', second = '0'): number {
  const y = Number(year) < 100 ? 2000 + Number(year) : Number(year);
  const mo = Number(month);
  const d = Number(day);
  if (mo < 1 || mo > 12 || d < 1 || d > 31 || Number(hour) > 24 || Number(minute) > 59) return Number.NaN;
  return Date.UTC(y, mo - 1, d, Number(hour), Number(minute)) / 1000 + Number(second.replace(',', '.'));
}

function zoneSeconds(zone: string | undefined): number {
  if (!zone || zone.toUpperCase() === 'Z') return 0;
  const digits = zone.replace(':', '').replace('−', '-');
  const size = Number(digits.slice(1, 3)) * 3600 + Number(digits.slice(3, 5) || 0) * 60;
  return digits[0] === '-' ? -size : size;
}

const DAY_S = 86_400;

/**
 * h:mm:ss: elapsed where the name says so or the column starts at zero, else times of day without a date. Of those a fall of over twelve
 * hours is midnight; smaller falls run back and are left to the caller.
 * @param seconds since midnight or the start, changed in place
 */
export function finishClockTimes(seconds: Float64Array, name: string, halves: boolean): ParsedTimes {
  const first = seconds.find((s) => !Number.isNaN(s)) ?? 0;
  const elapsed = !halves && (/elapsed|run ?time|duration|since/i.test(name) || first < 1);
  if (!elapsed) {
    let days = 0;
    let before = first;
    for (let i = 0; i < seconds.length; i++) {
      if (Number.isNaN(seconds[i])) continue;
      const raw = seconds[i];
      if (before - raw > DAY_S / 2) days++;
      else if (raw - before > DAY_S / 2 && days > 0) days--;
      before = raw;
      seconds[i] = raw + days * DAY_S;
    }
  }
  return { format: elapsed ? 'elapsed_clock' : 'time_of_day', seconds, absolute: false, zoned: false };
}

/**
 * Numbers as times: since 1970 in seconds, milli-, micro- or nanoseconds, spreadsheet days, or elapsed, told by their size and step.
 * @param raw numbers as they stand in the file, changed in place
 * @param unitFactor seconds per unit, from the column's unit (1 where there is none)
 */
export function finishNumericTimes(raw: Float64Array, name: string, unitFactor: number): ParsedTimes {
  // a single wrong cell must not decide: the usual size and step of the beginning do
  const head = sortedKnown(raw.subarray(0, 199));
  const first = head[Math.floor(head.length / 2)] ?? Number.NaN;
  const step = usualStep(raw.subarray(0, 2000));
  const each = (f: (v: number) => number) => {
    for (let i = 0; i < raw.length; i++) raw[i] = f(raw[i]);
    return raw;
  };
  if (first > 3e17 && first < 5e18) return { format: 'epoch_ns', seconds: each((v) => v * 1e-9), absolute: true, zoned: true };
  if (first > 3e14 && first < 5e15) return { format: 'epoch_us', seconds: each((v) => v * 1e-6), absolute: true, zoned: true };
  if (first > 3e11 && first < 5e13) return { format: 'epoch_ms', seconds: each((v) => v * 1e-3), absolute: true, zoned: true };
  if (first > 3e8 && first < 5e9 && unitFactor === 1) return { format: 'epoch_s', seconds: raw, absolute: true, zoned: true };
  if (first > 20_000 && first < 80_000 && step > 0 && step < 0.05 && !/elapsed|second|\bs\b/i.test(name)) {
    // day 25569 of the spreadsheet calendar is 1970-01-01; rounding to the millisecond undoes the binary fraction of a day
    return { format: 'excel_serial', seconds: each((v) => Math.round((v - 25_569) * DAY_S * 1000) / 1000), absolute: true, zoned: false };
  }
  return { format: 'elapsed_s', seconds: each((v) => v * unitFactor), absolute: false, zoned: false };
}
