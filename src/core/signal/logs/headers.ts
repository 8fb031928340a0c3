import { isOtherUnit, parseUnit, type Unit } from '#core/units/units';
import type { Dialect } from './dialect';
import { unitOfCell } from './numbers';
import type { LogOptions } from './types';

export interface Header {
  /** without its unit, and unlike every other name of the file */
  name: string;
  unit: Unit | null;
  /** the unit is one of a quantity that no role reads */
  other: boolean;
}

/** Names of the columns on one line each: a quoted header may be broken over lines. */
export function headerCells(dialect: Dialect): string[] {
  const header = dialect.header === null ? [] : dialect.rows[dialect.header];
  return Array.from({ length: dialect.width }, (_, i) => header[i]?.replace(/\s+/g, ' ').trim() || `Column ${i + 1}`);
}

/**
 * Names and units of the columns: the unit from a person, from the header, from the row of units, or from behind the first reading.
 * @param firstRow cells of the first data row
 */
export function readHeaders(headers: string[], dialect: Dialect, firstRow: string[], options: LogOptions): Header[] {
  const units = dialect.unit === null ? null : dialect.rows[dialect.unit].map((c) => c.trim().replace(/^[[(]|[\])]$/g, ''));
  return splitHeaders(headers).map((h, i) => {
    const unit = options.units?.[h.name] ?? h.unit ?? (units ? parseUnit(units[i] ?? '') : null) ?? unitOfCell(firstRow[i] ?? '');
    return { name: h.name, unit, other: unit === null && (h.other || isOtherUnit(units?.[i] ?? '')) };
  });
}

/** Parts headers such as "Die 1, north (°C)" into name and unit; a name that comes again is numbered. */
function splitHeaders(headers: string[]): Header[] {
  const seen = new Map<string, number>();
  return headers.map((header) => {
    const { name, unit } = splitHeader(header);
    const times = (seen.get(name) ?? 0) + 1;
    seen.set(name, times);
    return { name: times === 1 ? name : `${name} ${times}`, unit: parseUnit(unit), other: isOtherUnit(unit) };
  });
}

function splitHeader(header: string): { name: string; unit: string } {
  const bracket = /^(.*?)[\s_]*[([{]([^()[\]{}]*(?:\([^()]*\))?)[)\]}]\s*$/.exec(header);
  if (bracket && bracket[1] !== '' && (parseUnit(bracket[2]) !== null || isOtherUnit(bracket[2])))
    return { name: bracket[1], unit: bracket[2] };
  const trailing = /^(.*?)[\s,/_]+(°C|°F|MHz|GHz|RPM|mW|dBA?|%)$/i.exec(header);
  if (trailing && trailing[1] !== '') return { name: trailing[1], unit: trailing[2] };
  return { name: header, unit: '' };
}
