import { UNITS } from '#core/units/units';
import type { Dialect } from './dialect';
import { type Header, headerCells, readHeaders } from './headers';
import { parseNumber } from './numbers';
import { wordsOf } from './roles';
import { commonForm, type Form, isDateOnly, isTimeOfDay, looksLikeTime } from './times';
import { LogError, type LogOptions } from './types';
import { english } from './words';

const PREVIEW_ROWS = 6;
const SUMMARY = /^(min|max|avg|average|mean|median|sum|total|std|stdev|sd|count|minimum|maximum)\b/i;
const TIME_NAME = /^(date ?[/&]? ?time|time ?stamp|time|date|elapsed( time)?|seconds?|secs?|t|clock time|recorded( at)?|when)$/i;

/** How the rows of a file are to be read, as its beginning tells. */
export interface FileLayout {
  headers: string[];
  named: Header[];
  /** one column of times, or one of dates and one of times of day */
  time: { columns: number[]; form: Form; unitFactor: number; first: string };
  /** cells of the first data rows */
  preview: string[][];
}

/**
 * Reads from the head of a file which columns there are and which tell the time.
 * @throws LogError where there is no data row or no time
 */
export function readLayout(file: string, dialect: Dialect, options: LogOptions): FileLayout {
  const headers = headerCells(dialect);
  const kept = fullRows(dialect);
  if (kept.length === 0) throw new LogError(file, 'there is a header but no full row of readings below it.', { row: dialect.data + 1 });
  const named = readHeaders(headers, dialect, kept[0], options);
  const columns = timeColumns(kept, named, dialect);
  if (columns.length === 0) {
    throw new LogError(file, 'no column holds times; a column of dates and times, times of day or elapsed seconds is needed.', {
      row: dialect.data + 1,
    });
  }
  const cells = kept.map((row) => columns.map((i) => (row[i] ?? '').trim()).join(' '));
  const form = commonForm(cells);
  if (form === null) {
    throw new LogError(file, `"${cells[0]}" cannot be read as a time; ISO dates, d.m.yyyy h:mm:ss, epoch or elapsed seconds are read.`, {
      row: dialect.data + 1,
      column: named[columns[0]].name,
    });
  }
  const { unit } = named[columns[0]];
  const unitFactor = unit === 'ms' || unit === 'min' ? UNITS[unit].factor : 1;
  return { headers, named, time: { columns, form, unitFactor, first: cells[0] }, preview: kept.slice(0, PREVIEW_ROWS) };
}

/** Data rows of the head, without repeated headers and summaries. */
const fullRows = ({ rows, repeats, data, width }: Dialect): string[][] =>
  rows.slice(data).flatMap((row) => {
    const cells = trimmed(row, width);
    return cells.length !== width || isEmptyRow(cells) || isSummary(cells[0]) || repeats.includes(row.join('\u0001')) ? [] : [cells];
  });

/** A row without empty cells beyond the width. */
export function trimmed(row: string[], width: number): string[] {
  let length = row.length;
  while (length > width && row[length - 1].trim() === '') length--;
  return length === row.length ? row : row.slice(0, length);
}

export const isEmptyRow = (row: string[]): boolean => row.every((c) => c.trim() === '');

/** True for a cell that heads a row of figures about the readings above. */
export const isSummary = (cell: string): boolean => SUMMARY.test(cell.trim());

/** A name of a time in any of the languages; every word of it must say time or date. */
function isTimeName(name: string): boolean {
  const words = wordsOf(name);
  return TIME_NAME.test(words) || words.split(' ').every((w) => /^ (time|date)$/.test(english(w).slice(w.length)));
}

function timeColumns(kept: string[][], named: Header[], dialect: Dialect): number[] {
  const probe = kept[Math.min(kept.length - 1, 1)];
  const dateOnly = probe.findIndex(isDateOnly);
  const clock = probe.findIndex(isTimeOfDay);
  if (dateOnly >= 0 && clock >= 0) return [dateOnly, clock];
  const byName = named.findIndex(
    (h, i) => isTimeName(h.name) && (looksLikeTime(probe[i]) || !Number.isNaN(parseNumber(probe[i], dialect.decimal))),
  );
  if (byName >= 0) return [byName];
  const timeLike = probe.findIndex(looksLikeTime);
  return timeLike >= 0 ? [timeLike] : risingColumn(kept, dialect);
}

/** Without a name or form of a time: the first column whose numbers only ever rise. */
function risingColumn(kept: string[][], dialect: Dialect): number[] {
  for (let i = 0; i < Math.min(dialect.width, 3); i++) {
    const values = kept.slice(0, 500).map((row) => parseNumber(row[i], dialect.decimal));
    if (values.length > 2 && values.every((v, k) => !Number.isNaN(v) && (k === 0 || v > values[k - 1]))) return [i];
  }
  return [];
}
