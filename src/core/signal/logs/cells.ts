import type { Delimiter } from './types';

/** Longest stretch in bytes over which a quoted cell may be broken across lines; a quote that stays open longer is a plain character. */
const MOST_QUOTED = 4000;
const QUOTE = 34;
const BLANK = 32;

/** One row of a text: where its bytes begin and end, and where the next begins. */
export interface RowSpan {
  from: number;
  to: number;
  next: number;
}

/**
 * Walks the rows of a text of bytes without making strings of them. Rows end at line feeds (a carriage return before them is dropped), or
 * at carriage returns where the text has no line feeds; a quoted cell may hold line ends.
 */
export class RowWalker {
  private quote = -1;

  constructor(
    readonly bytes: Uint8Array,
    /** byte that ends a row: 10, or 13 in texts without line feeds */
    readonly newline: number,
    private readonly delimiter: number,
    /** true where no bytes come behind these, so that a quote still open will not be closed */
    private readonly whole = false,
  ) {}

  /** The row that begins at a place; null where the text ends before its line end. */
  rowAt(from: number): RowSpan | null {
    const { bytes, newline } = this;
    let end = bytes.indexOf(newline, from);
    if (end < 0) return null;
    if (this.quoteAfter(from) < end) {
      const first = end;
      while (isQuoteOpen(bytes, from, end, this.delimiter)) {
        end = bytes.indexOf(newline, end + 1);
        if (end < 0 && !this.whole && bytes.length - from <= MOST_QUOTED) return null;
        if (end < 0 || end - from > MOST_QUOTED) {
          end = first;
          break;
        }
      }
    }
    return { from, to: end > from && newline === 10 && bytes[end - 1] === 13 ? end - 1 : end, next: end + 1 };
  }

  /** True where the row that begins at a place may hold quotes. */
  hasQuote(row: RowSpan): boolean {
    return this.quoteAfter(row.from) < row.to;
  }

  private quoteAfter(from: number): number {
    if (this.quote < from) {
      const at = this.bytes.indexOf(QUOTE, from);
      this.quote = at < 0 ? this.bytes.length : at;
    }
    return this.quote;
  }
}

/** True where the bytes end inside a quoted cell. */
function isQuoteOpen(bytes: Uint8Array, from: number, to: number, delimiter: number): boolean {
  let open = false;
  let atStart = true;
  for (let i = from; i < to; i++) {
    const b = bytes[i];
    if (open) {
      if (b !== QUOTE) continue;
      if (bytes[i + 1] === QUOTE) i++;
      else open = false;
    } else if (b === QUOTE && atStart) open = true;
    else atStart = b === delimiter || (atStart && b === BLANK);
  }
  return open;
}

/** Where the cell that begins at a place ends: at its delimiter or at the end of the row. A quoted cell may hold delimiters. */
export function cellEnd(bytes: Uint8Array, from: number, to: number, delimiter: number): number {
  let at = from;
  while (at < to && bytes[at] === BLANK && delimiter !== BLANK) at++;
  if (bytes[at] === QUOTE && at < to) {
    const closed = quotedEnd(bytes, at, to, delimiter);
    if (closed >= 0) return closed;
  }
  while (at < to && bytes[at] !== delimiter) at++;
  return at;
}

/** Place behind a quoted cell; −1 where the quote is not closed before a delimiter or the row's end, and so is a plain character. */
function quotedEnd(bytes: Uint8Array, at: number, to: number, delimiter: number): number {
  for (let i = at + 1; i < to; i++) {
    if (bytes[i] !== QUOTE) continue;
    if (bytes[i + 1] === QUOTE && i + 1 < to) {
      i++;
      continue;
    }
    let after = i + 1;
    while (after < to && bytes[after] === BLANK && delimiter !== BLANK) after++;
    return after >= to || bytes[after] === delimiter ? after : -1;
  }
  return -1;
}

/** Text of a cell without its quotes. */
export function cellText(bytes: Uint8Array, from: number, to: number, decoder: TextDecoder): string {
  let a = from;
  let b = to;
  while (a < b && bytes[a] === BLANK) a++;
  while (b > a && bytes[b - 1] === BLANK) b--;
  if (b - a >= 2 && bytes[a] === QUOTE && bytes[b - 1] === QUOTE) return decoder.decode(bytes.subarray(a + 1, b - 1)).replace(/""/g, '"');
  return decoder.decode(bytes.subarray(from, to));
}

/** Cells of a row as texts. Where blanks separate, runs of them count as one and those before the first cell as none. */
export function splitRow(bytes: Uint8Array, { from, to }: Pick<RowSpan, 'from' | 'to'>, delimiter: number, decoder: TextDecoder): string[] {
  const cells: string[] = [];
  let at = from;
  if (delimiter === BLANK) while (at < to && bytes[at] === BLANK) at++;
  for (;;) {
    const end = cellEnd(bytes, at, to, delimiter);
    cells.push(cellText(bytes, at, end, decoder));
    if (end >= to) return cells;
    at = end + 1;
    if (delimiter === BLANK) while (at < to && bytes[at] === BLANK) at++;
  }
}

export const delimiterByte = (delimiter: Delimiter): number => delimiter.charCodeAt(0);

/** Powers of ten that a double holds exactly. */
const TENS = Array.from({ length: 23 }, (_, i) => 10 ** i);
/** Most digits whose integer a double holds exactly. */
const MOST_DIGITS = 15;

/** Where the number that was read last ends. */
export const scanned = { end: 0 };

/**
 * Reads a plain decimal number straight from bytes: a sign, digits, a decimal sign, digits. The result is the double nearest to the
 * decimal, as the digits and the power of ten are both exact. Anything else is left to the caller.
 * @param decimal byte of the decimal sign
 * @returns NaN where the bytes are no such number; else its value, with `scanned.end` behind its last digit
 */
export function scanNumber(bytes: Uint8Array, from: number, to: number, decimal: number): number {
  let at = from;
  const negative = bytes[at] === 45;
  if (negative || bytes[at] === 43) at++;
  let value = 0;
  let digits = 0;
  let fraction = 0;
  for (; at < to; at++) {
    const d = bytes[at] - 48;
    if (d < 0 || d > 9) break;
    value = value * 10 + d;
    digits++;
  }
  if (at < to && bytes[at] === decimal) {
    at++;
    const first = at;
    for (; at < to; at++) {
      const d = bytes[at] - 48;
      if (d < 0 || d > 9) break;
      value = value * 10 + d;
    }
    fraction = at - first;
    digits += fraction;
  }
  if (digits === 0 || digits > MOST_DIGITS) return Number.NaN;
  scanned.end = at;
  const size = fraction === 0 ? value : value / TENS[fraction];
  return negative ? -size : size;
}
