import { parseUnit, type Unit } from '#core/units/units';
import type { Decimal } from './types';

const MISSING = new Set(
  (
    ' n/a #n/a #na na nan -nan null none nil - -- --- – — − ? ?? * ** *** **** . .. ... inf -inf +inf infinity -infinity ∞ missing error err open ol o.l. ovld overload over under ' +
    'n.a. n.a n/d nd no_data nodata no-data void undef undefined unknown invalid fault short #value! #ref! #div/0! #num! <na> (null) \\n'
  ).split(' '),
);
const YES_NO = new Map([
  ['yes', 1],
  ['no', 0],
  ['true', 1],
  ['false', 0],
  ['on', 1],
  ['off', 0],
]);
const POINT_NUMBER = /^[-+]?(\d{1,3}(?:[,'’\s]\d{3})+|\d+)?(\.\d*)?(e[-+]?\d+)?$/i;
const COMMA_NUMBER = /^[-+]?(\d{1,3}(?:[.'’\s]\d{3})+|\d+)?(,\d*)?(e[-+]?\d+)?$/i;
const WITH_UNIT = /^([-+−]?[\d.,]+(?:e[-+]?\d+)?)\s*([^\d\s.,][^\d]*)$/i;

/** True for the texts loggers write where a reading is missing. */
export function isMissing(cell: string): boolean {
  const text = cell.trim().toLowerCase();
  return MISSING.has(text) || text === 'no data' || text === 'not available';
}

/**
 * Number of a cell; NaN where it is missing or none. Yes and no count 1 and 0; a unit behind the number is passed over.
 * Thousands separators are taken only in full groups of three.
 */
export function parseNumber(cell: string, decimal: Decimal): number {
  if (decimal === '.') {
    const quick = cell === '' ? Number.NaN : Number(cell);
    if (!Number.isNaN(quick)) return Number.isFinite(quick) ? quick : Number.NaN;
  }
  const text = cell.trim().replace('−', '-');
  if (isMissing(text)) return Number.NaN;
  const plain = parsePlain(text, decimal);
  if (!Number.isNaN(plain)) return plain;
  const yesNo = YES_NO.get(text.toLowerCase());
  if (yesNo !== undefined) return yesNo;
  const parts = WITH_UNIT.exec(text);
  return parts && parseUnit(parts[2]) ? parsePlain(parts[1], decimal) : Number.NaN;
}

/** One comma with three digits behind it: a decimal one, or one between thousands. */
const ONE_COMMA = /^[-+−]?\d{1,3},\d{3}$/;

/**
 * The two readings of a number with one comma before three digits, which nothing about the number itself decides; null where it has only
 * one.
 * @returns as thousands and as a decimal
 */
export function commaReadings(text: string): [thousands: number, decimal: number] | null {
  const plain = text.trim().replace('−', '-');
  return ONE_COMMA.test(plain) ? [Number(plain.replace(',', '')), Number(plain.replace(',', '.'))] : null;
}

/** Unit written behind the number of a cell, if any. */
export function unitOfCell(cell: string): Unit | null {
  const parts = WITH_UNIT.exec(cell.trim());
  return parts ? parseUnit(parts[2]) : null;
}

function parsePlain(text: string, decimal: Decimal): number {
  const pattern = decimal === '.' ? POINT_NUMBER : COMMA_NUMBER;
  if (!/\d/.test(text) || !pattern.test(text)) return Number.NaN;
  const groups = decimal === '.' ? /[,'’\s]/g : /[.'’\s]/g;
  const value = Number(text.replace(groups, '').replace(',', '.'));
  return Number.isFinite(value) ? value : Number.NaN;
}
