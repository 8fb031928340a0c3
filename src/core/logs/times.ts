import type { Decimal, TimeFormat } from './types';

const ISO = /^(\d{4})[-/](\d{1,2})[-/](\d{1,2})(?:[T ]+(\d{1,2}):(\d{2})(?::(\d{2}(?:[.,]\d+)?))?)?\s*(Z|[+-]\d{2}:?\d{2})?$/i;
const DOTTED = /^(\d{1,2})\.(\d{1,2})\.(\d{4}|\d{2})(?:,?\s+(\d{1,2}):(\d{2})(?::(\d{2}(?:[.,]\d+)?))?)?$/;
const SLASHED = /^(\d{1,2})[/-](\d{1,2})[/-](\d{4}|\d{2})(?:,?\s+(\d{1,2}):(\d{2})(?::(\d{2}(?:[.,]\d+)?))?\s*([ap])?\.?m?\.?)?$/i;
const CLOCK = /^(\d{1,4}):(\d{2}):(\d{2}(?:[.,]\d+)?)\s*([ap])?\.?m?\.?$/i;

/** A time as it stands in one cell, before the whole column decides how it is to be read. */
type Form = 'iso' | 'dotted' | 'slashed' | 'clock' | 'number';

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

/**
 * Reads a whole column of times. The form most cells share decides; cells of another form become NaN.
 * @param name the column's name, which may say that the times are elapsed ones
 * @param unitFactor seconds per unit of a plain number, from the column's unit (1 where there is none)
 * @param toNumber reads a plain number in the file's decimal
 * @throws AmbiguousDates where day and month could be either way round and dayFirst is not given
 * @returns null where the cells are no times
 */
export function parseTimes(
  cells: string[],
  name: string,
  unitFactor: number,
  decimal: Decimal,
  toNumber: (cell: string, decimal: Decimal) => number,
  dayFirst?: boolean,
): ParsedTimes | null {
  const form = commonForm(cells);
  if (form === 'number') return parseNumericTimes(cells, name, unitFactor, decimal, toNumber);
  if (form === null) return null;
  if (form === 'clock') return parseClockTimes(cells, name);
  const seconds = new Float64Array(cells.length);
  if (form === 'slashed') {
    const monthFirst = !decideDayFirst(cells, dayFirst);
    cells.forEach((cell, i) => {
      seconds[i] = slashedSeconds(cell.trim(), monthFirst);
    });
    return { format: monthFirst ? 'month_day' : 'day_month', seconds, absolute: true, zoned: false };
  }
  let zoned = false;
  cells.forEach((cell, i) => {
    const text = cell.trim();
    const m = form === 'iso' ? ISO.exec(text) : DOTTED.exec(text);
    if (!m) seconds[i] = Number.NaN;
    else if (form === 'iso') {
      zoned ||= Boolean(m[7]);
      seconds[i] = utc(m[1], m[2], m[3], m[4], m[5], m[6]) - zoneSeconds(m[7]);
    } else seconds[i] = utc(m[3], m[2], m[1], m[4], m[5], m[6]);
  });
  return { format: form === 'iso' ? 'iso' : 'dotted_date', seconds, absolute: true, zoned };
}

function commonForm(cells: string[]): Form | null {
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

function decideDayFirst(cells: string[], given?: boolean): boolean {
  let firstOver = false;
  let secondOver = false;
  for (const cell of cells) {
    const m = SLASHED.exec(cell.trim());
    if (!m) continue;
    firstOver ||= Number(m[1]) > 12;
    secondOver ||= Number(m[2]) > 12;
  }
  if (firstOver && !secondOver) return true;
  if (secondOver && !firstOver) return false;
  if (given === undefined) throw new AmbiguousDates();
  return given;
}

function slashedSeconds(text: string, monthFirst: boolean): number {
  const m = SLASHED.exec(text);
  if (!m) return Number.NaN;
  const [day, month] = monthFirst ? [m[2], m[1]] : [m[1], m[2]];
  return utc(m[3], month, day, hour24(m[4], m[7]), m[5], m[6]);
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
 */
function parseClockTimes(cells: string[], name: string): ParsedTimes {
  const seconds = new Float64Array(cells.length);
  let halves = false;
  cells.forEach((cell, i) => {
    const m = CLOCK.exec(cell.trim());
    halves ||= Boolean(m?.[4]);
    seconds[i] = m ? Number(hour24(m[1], m[4])) * 3600 + Number(m[2]) * 60 + Number(m[3].replace(',', '.')) : Number.NaN;
  });
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

function parseNumericTimes(
  cells: string[],
  name: string,
  unitFactor: number,
  decimal: Decimal,
  toNumber: (cell: string, decimal: Decimal) => number,
): ParsedTimes {
  const raw = Float64Array.from(cells, (c) => toNumber(c, decimal));
  const known = raw.filter((v) => !Number.isNaN(v));
  const first = known[0] ?? 0;
  const last = known[known.length - 1] ?? 0;
  const step = known.length > 1 ? (last - first) / (known.length - 1) : 0;
  const scaled = (factor: number, offset = 0) => raw.map((v) => v * factor + offset);
  if (first > 3e11 && first < 5e13) return { format: 'epoch_ms', seconds: scaled(1e-3), absolute: true, zoned: true };
  if (first > 3e8 && first < 5e9 && unitFactor === 1) return { format: 'epoch_s', seconds: scaled(1), absolute: true, zoned: true };
  const serial = first > 20_000 && first < 80_000 && step > 0 && step < 0.05 && !/elapsed|second|\bs\b/i.test(name);
  if (serial) {
    // day 25569 of the spreadsheet calendar is 1970-01-01; rounding to the millisecond undoes the binary fraction of a day
    const seconds = raw.map((v) => Math.round((v - 25_569) * DAY_S * 1000) / 1000);
    return { format: 'excel_serial', seconds, absolute: true, zoned: false };
  }
  return { format: 'elapsed_s', seconds: scaled(unitFactor), absolute: false, zoned: false };
}
