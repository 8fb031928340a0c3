import type { TimeFormat } from './types';

const ISO = /^(\d{4})[-/](\d{1,2})[-/](\d{1,2})(?:[T ]+(\d{1,2}):(\d{2})(?::(\d{2}(?:[.,]\d+)?))?)?\s*(Z|[+-]\d{2}:?\d{2})?$/i;
const DOTTED = /^(\d{1,2})\.(\d{1,2})\.(\d{4}|\d{2})(?:,?\s+(\d{1,2}):(\d{2})(?::(\d{2}(?:[.,]\d+)?))?)?$/;
const SLASHED = /^(\d{1,2})[/-](\d{1,2})[/-](\d{4}|\d{2})(?:,?\s+(\d{1,2}):(\d{2})(?::(\d{2}(?:[.,]\d+)?))?\s*([ap])?\.?m?\.?)?$/i;
const CLOCK = /^(\d{1,4}):(\d{2}):(\d{2}(?:[.,]\d+)?)\s*([ap])?\.?m?\.?$/i;

/** A time as it stands in one cell, before the whole column decides how it is to be read. */
export type Form = 'iso' | 'dotted' | 'slashed' | 'clock' | 'number';

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
  return ISO.test(text) || DOTTED.test(text) || SLASHED.test(text) || CLOCK.test(text);
}

export function isDateOnly(cell: string): boolean {
  const text = cell.trim();
  return looksLikeTime(text) && !text.includes(':');
}

export function isTimeOfDay(cell: string): boolean {
  return CLOCK.test(cell.trim());
}

function formOf(cell: string): Form | null {
  const text = cell.trim();
  if (ISO.test(text)) return 'iso';
  if (DOTTED.test(text)) return 'dotted';
  if (SLASHED.test(text)) return 'slashed';
  if (CLOCK.test(text)) return 'clock';
  return null;
}

/** What one cell says: its seconds with the day first and with the month first where the form leaves that open, else the same twice. */
export interface CellTime {
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
  if (form === 'dotted') {
    const m = DOTTED.exec(text);
    return of(m ? utc(m[3], m[2], m[1], m[4], m[5], m[6]) : Number.NaN);
  }
  if (form === 'clock') {
    const m = CLOCK.exec(text);
    return m ? of(Number(hour24(m[1], m[4])) * 3600 + Number(m[2]) * 60 + Number(m[3].replace(',', '.')), false, Boolean(m[4])) : of(Number.NaN);
  }
  const m = SLASHED.exec(text);
  if (!m) return of(Number.NaN);
  const at = (month: string, day: string) => utc(m[3], month, day, hour24(m[4], m[7]), m[5], m[6]);
  return { seconds: at(m[2], m[1]), month_first: at(m[1], m[2]), zoned: false, halves: Boolean(m[7]) };
}

/** Form that most of the cells share; null where fewer than half are times. */
export function commonForm(cells: string[]): Form | null {
  const counts = new Map<Form, number>();
  const step = Math.max(1, Math.floor(cells.length / 200));
  let seen = 0;
  for (let i = 0; i < cells.length; i += step) {
    if (cells[i].trim() === '') continue;
    seen++;
    const form = formOf(cells[i]) ?? (/^[-+]?[\d.,]+(e[-+]?\d+)?$/i.test(cells[i].trim()) ? 'number' : null);
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
  const digits = zone.replace(':', '');
  const size = Number(digits.slice(1, 3)) * 3600 + Number(digits.slice(3, 5)) * 60;
  return digits[0] === '-' ? -size : size;
}

const DAY_S = 86_400;

/**
 * h:mm:ss: elapsed where the name says so or the column starts at zero, else times of day without a date.
 * Of those a fall of over twelve hours is midnight; smaller falls run back and are left to the caller.
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
 * Numbers as times: since 1970 in seconds or milliseconds, spreadsheet days, or elapsed, told by their size and step.
 * @param raw numbers as they stand in the file, changed in place
 * @param unitFactor seconds per unit, from the column's unit (1 where there is none)
 */
export function finishNumericTimes(raw: Float64Array, name: string, unitFactor: number): ParsedTimes {
  let first = Number.NaN;
  let last = Number.NaN;
  let known = 0;
  for (const v of raw) {
    if (Number.isNaN(v)) continue;
    if (known === 0) first = v;
    last = v;
    known++;
  }
  const step = known > 1 ? (last - first) / (known - 1) : 0;
  const each = (f: (v: number) => number) => {
    for (let i = 0; i < raw.length; i++) raw[i] = f(raw[i]);
    return raw;
  };
  if (first > 3e11 && first < 5e13) return { format: 'epoch_ms', seconds: each((v) => v * 1e-3), absolute: true, zoned: true };
  if (first > 3e8 && first < 5e9 && unitFactor === 1) return { format: 'epoch_s', seconds: raw, absolute: true, zoned: true };
  if (first > 20_000 && first < 80_000 && step > 0 && step < 0.05 && !/elapsed|second|\bs\b/i.test(name)) {
    // day 25569 of the spreadsheet calendar is 1970-01-01; rounding to the millisecond undoes the binary fraction of a day
    return { format: 'excel_serial', seconds: each((v) => Math.round((v - 25_569) * DAY_S * 1000) / 1000), absolute: true, zoned: false };
  }
  return { format: 'elapsed_s', seconds: each((v) => v * unitFactor), absolute: false, zoned: false };
}
