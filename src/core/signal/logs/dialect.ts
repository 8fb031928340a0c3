import { parseUnit } from '#core/units/units';
import { delimiterByte, type RowSpan, RowWalker, splitRow } from './cells';
import { isMissing, parseNumber } from './numbers';
import { looksLikeTime } from './times';
import { type Decimal, type Delimiter, LogError, type LogOptions } from './types';

/** How a file is laid out: what separates cells, where its header and its data begin. Rows count from 0. */
export interface Dialect {
  delimiter: Delimiter;
  decimal: Decimal;
  /** byte that ends a row */
  newline: number;
  /** cells of the rows at the head of the file, empty rows included */
  rows: string[][];
  header: number | null;
  unit: number | null;
  /** header and row of units as they stand in the file, their cells joined by U+0001: such rows may come again */
  repeats: string[];
  data: number;
  /** byte at which the data begin */
  data_at: number;
  /** cells per data row */
  width: number;
}

const DELIMITERS: Delimiter[] = ['\t', ';', '|', ',', ' '];
const MAX_COLUMNS = 2000;

/**
 * Finds delimiter, decimal sign, header, unit row and first data row.
 * @param head bytes of the file's beginning
 * @param whole true where that is the whole file
 * @throws LogError where no line looks like readings
 */
export function detectDialect(file: string, head: Uint8Array, whole: boolean, decoder: TextDecoder, options: LogOptions): Dialect {
  const newline = head.includes(10) || !head.includes(13) ? 10 : 13;
  const candidates = options.delimiter ? [options.delimiter] : DELIMITERS;
  const scored = candidates
    .flatMap((delimiter) => {
      const { rows, spans } = headRows(head, whole, newline, delimiter, decoder);
      const layout = findData(rows, options.decimal);
      if (!layout) return [];
      const asTheyStand = rows.slice(0, layout.data);
      if (delimiter === ' ') joinUnits(rows, layout);
      const repeats = [layout.header, layout.unit].flatMap((i) => (i === null ? [] : [asTheyStand[i].join('\u0001')]));
      return [{ delimiter, rows, repeats, layout, data_at: spans[layout.data].from }];
    })
    .sort((a, b) => b.layout.score - a.layout.score);
  if (scored.length === 0) throw noTable(file, decoder.decode(head));
  const { delimiter, rows, repeats, layout, data_at } = scored[0];
  if (layout.width > MAX_COLUMNS) throw new LogError(file, `the file has ${layout.width} columns; up to ${MAX_COLUMNS} are read.`);
  return { delimiter, newline, rows, repeats, data_at, ...layout };
}

function headRows(
  head: Uint8Array,
  whole: boolean,
  newline: number,
  delimiter: Delimiter,
  decoder: TextDecoder,
): { rows: string[][]; spans: RowSpan[] } {
  const separator = delimiterByte(delimiter);
  const walker = new RowWalker(head, newline, separator, whole);
  const spans: RowSpan[] = [];
  let at = 0;
  while (at < head.length) {
    const row = walker.rowAt(at) ?? (whole ? { from: at, to: head.length, next: head.length } : null);
    if (!row) break;
    spans.push(row);
    at = row.next;
  }
  return { rows: spans.map((row) => splitRow(head, row, separator, decoder)), spans };
}

/** Where blanks separate, a unit in brackets behind a name is a cell of its own; it is put back to its name. */
function joinUnits(rows: string[][], layout: Layout): void {
  for (let i = layout.data - 1; i >= 0; i--) {
    if (rows[i].length <= layout.width) continue;
    const joined = rows[i].reduce<string[]>((cells, cell) => {
      if (cells.length > 0 && /^[([].*[)\]]$/.test(cell)) cells[cells.length - 1] += ` ${cell}`;
      else cells.push(cell);
      return cells;
    }, []);
    if (joined.length !== layout.width) continue;
    rows[i] = joined;
    layout.header ??= i;
  }
}

function noTable(file: string, text: string): LogError {
  const lines = text.split(/\r?\n/).filter((l) => l.trim() !== '');
  if (lines.length === 1 && /[,;\t|]/.test(lines[0])) {
    return new LogError(file, 'there is a header but no row of readings below it; at least a few minutes of readings are needed.', {
      row: 2,
    });
  }
  return new LogError(
    file,
    'no line looks like readings; rows of a time and numbers, separated by commas, semicolons, tabs or |, are needed.',
    { row: 1 },
  );
}

interface Layout {
  decimal: Decimal;
  header: number | null;
  unit: number | null;
  data: number;
  width: number;
  score: number;
}

function findData(rows: string[][], givenDecimal?: Decimal): Layout | null {
  const filled = rows.filter((r) => r.some((c) => c.trim() !== ''));
  const width = commonWidth(filled);
  if (width < 2) return null;
  const full = filled.filter((r) => r.length === width);
  const decimal = givenDecimal ?? guessDecimal(full);
  const isReading = (cell: string) => !Number.isNaN(parseNumber(cell, decimal)) || looksLikeTime(cell);
  const readingShare = (row: string[]) => {
    const cells = row.filter((c) => !isMissing(c));
    return cells.length === 0 ? 0 : cells.filter(isReading).length / cells.length;
  };
  const isData = (row: string[]) => row.length === width && readingShare(row) >= 0.5 && row.filter(isReading).length >= 2;
  const data = rows.findIndex(isData);
  if (data < 0) return null;
  const { header, unit } = findHeader(rows, data, width);
  const shares = full.map(readingShare).sort((a, b) => a - b);
  const consistency = full.length / filled.length;
  return {
    ...{ decimal, header, unit, data, width },
    score: shares[Math.floor(shares.length / 2)] * (0.5 + 0.5 * consistency) + 1e-4 * Math.min(width, 200),
  };
}

function commonWidth(rows: string[][]): number {
  const counts = new Map<number, number>();
  for (const row of rows) counts.set(row.length, (counts.get(row.length) ?? 0) + 1);
  return [...counts].sort((a, b) => b[1] - a[1] || b[0] - a[0])[0]?.[0] ?? 0;
}

function guessDecimal(rows: string[][]): Decimal {
  let point = 0;
  let comma = 0;
  for (const row of rows.slice(0, 400)) {
    for (const cell of row) {
      const text = cell.trim();
      if (/^[-+−]?\d+\.\d+$/.test(text)) point++;
      else if (/^[-+−]?\d+,\d+$/.test(text)) comma++;
    }
  }
  return comma > point ? ',' : '.';
}

/** A line drawn under a header, of dashes and the like. */
const isRule = (row: string[]): boolean => row.every((c) => /^[-=:+_ ]*$/.test(c.trim()));

/** The header is the last full row of names above the data; a row of units may stand between. */
function findHeader(rows: string[][], data: number, width: number): { header: number | null; unit: number | null } {
  const above: number[] = [];
  for (let i = data - 1; i >= 0 && above.length < 2; i--) {
    if (rows[i].some((c) => c.trim() !== '') && !isRule(rows[i])) above.push(i);
  }
  const isWide = (i: number) => Math.abs(rows[i].length - width) <= 1;
  const isUnitRow = (i: number) => {
    const cells = rows[i].map((c) => c.trim().replace(/^[[(]|[\])]$/g, '')).filter((c) => c !== '');
    return cells.length > 0 && cells.filter((c) => parseUnit(c) !== null).length >= 0.5 * cells.length;
  };
  const [nearest, next] = above;
  if (nearest === undefined || !isWide(nearest)) return { header: null, unit: null };
  if (next !== undefined && isWide(next) && isUnitRow(nearest)) return { header: next, unit: nearest };
  return { header: nearest, unit: null };
}
