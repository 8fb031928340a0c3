import { cellEnd, cellText, delimiterByte, type RowSpan, scanNumber, scanned, splitRow } from './cells';
import { type ClockRepair, repairClock } from './clock';
import type { Dialect } from './dialect';
import { type FileLayout, isEmptyRow, isSummary, trimmed } from './layout';
import { isMissing, parseNumber } from './numbers';
import { TimeColumn } from './timeColumn';
import type { ParsedTimes } from './times';
import type { RowCounts } from './types';

const BLANK = 32;
const QUOTE = 34;
/** Most texts of cells whose reading is remembered. */
const MOST_KNOWN = 1000;
const UNREADABLE = { value: Number.NaN, text: true };

/**
 * Readings of a file's rows as they come, each column in one array. A row is read where it stands, without strings, wherever its cells are
 * plain numbers.
 */
export class Readings {
  readonly counts: RowCounts = { partial: 0, ragged: 0, repeated: 0, summary: 0, out_of_order: 0 };
  rows = 0;
  private capacity: number;
  private readonly times: TimeColumn;
  /** one array per cell; null for those of the time */
  private readonly values: (Float64Array | null)[];
  private readonly texts: Uint8Array;
  private readonly numbers: Uint8Array;
  private readonly delimiter: number;
  private readonly decimal: number;
  private readonly known = new Map<string, { value: number; text: boolean }>();
  private readonly timeAt: number;
  private readonly dateAt: number;

  /** @param expected rows the file will have, as its size suggests */
  constructor(
    private readonly dialect: Dialect,
    private readonly layout: FileLayout,
    private readonly decoder: TextDecoder,
    expected: number,
  ) {
    const { columns, form } = layout.time;
    this.capacity = Math.max(64, Math.ceil(expected));
    this.delimiter = delimiterByte(dialect.delimiter);
    this.decimal = dialect.decimal.charCodeAt(0);
    [this.dateAt, this.timeAt] = columns.length === 2 ? columns : [-1, columns[0]];
    this.times = new TimeColumn(form, this.decimal, decoder, (cell) => parseNumber(cell, dialect.decimal), this.capacity);
    this.values = Array.from({ length: dialect.width }, (_, i) => (columns.includes(i) ? null : new Float64Array(this.capacity)));
    this.texts = new Uint8Array(dialect.width);
    this.numbers = new Uint8Array(dialect.width);
  }

  /**
   * Reads one row; what is no full row of readings is counted and left out.
   * @param cut true for a last row that no line end closes
   */
  readRow(bytes: Uint8Array, row: RowSpan, cut = false): void {
    const { from, to } = row;
    if (from >= to) return;
    if (this.rows === this.capacity) this.grow();
    if (startsWithLetter(bytes, from) || !this.readCells(bytes, from, to)) this.readOdd(bytes, row, cut);
    else this.rows++;
  }

  /** Reads the cells of a row into place; false where there are too few or too many, or no time. */
  private readCells(bytes: Uint8Array, from: number, to: number): boolean {
    const { delimiter, timeAt, dateAt } = this;
    const width = this.values.length;
    const blanks = delimiter === BLANK;
    let at = from;
    if (blanks) while (at < to && bytes[at] === BLANK) at++;
    let clockFrom = 0;
    let clockTo = 0;
    let dateFrom = 0;
    let dateTo = 0;
    for (let i = 0; i < width; i++) {
      if (at > to) return false;
      const into = this.values[i];
      let end: number;
      if (into === null) {
        end = cellEnd(bytes, at, to, delimiter);
        const quoted = bytes[at] === QUOTE && end - at >= 2 && bytes[end - 1] === QUOTE ? 1 : 0;
        if (i === timeAt) {
          clockFrom = at + quoted;
          clockTo = end - quoted;
        } else if (i === dateAt) {
          dateFrom = at + quoted;
          dateTo = end - quoted;
        }
      } else end = this.readCell(i, into, bytes, at, to);
      at = end + 1;
      if (blanks) while (at < to && bytes[at] === BLANK) at++;
    }
    // cells beyond the width may only be empty
    for (; at <= to; at++) if (at < to && bytes[at] !== delimiter && bytes[at] !== BLANK) return false;
    return this.times.read(this.rows, bytes, clockFrom, clockTo, dateFrom, dateTo);
  }

  /** Reads one cell and says where it ends. */
  private readCell(i: number, into: Float64Array, bytes: Uint8Array, from: number, to: number): number {
    const quoted = bytes[from] === QUOTE ? 1 : 0;
    const value = scanNumber(bytes, from + quoted, to, this.decimal);
    if (!Number.isNaN(value)) {
      const end = scanned.end;
      const after = quoted === 0 ? end : bytes[end] === QUOTE && end < to ? end + 1 : -1;
      if (after >= 0 && (after >= to || bytes[after] === this.delimiter)) {
        into[this.rows] = value;
        this.numbers[i] = 1;
        return after;
      }
    }
    const end = cellEnd(bytes, from, to, this.delimiter);
    if (end === from) {
      into[this.rows] = Number.NaN;
      return end;
    }
    const read = end - from > 80 ? UNREADABLE : this.readText(cellText(bytes, from, end, this.decoder));
    into[this.rows] = read.value;
    if (read.text) this.texts[i] = 1;
    else if (!Number.isNaN(read.value)) this.numbers[i] = 1;
    return end;
  }

  /** A cell that is no plain number: another way to write one, a missing reading, or text. */
  private readText(cell: string): { value: number; text: boolean } {
    const before = this.known.get(cell);
    if (before) return before;
    const value = parseNumber(cell, this.dialect.decimal);
    const read = { value, text: Number.isNaN(value) && !isMissing(cell) };
    if (this.known.size < MOST_KNOWN) this.known.set(cell, read);
    return read;
  }

  /** A row that is not read straight away: a repeated header, a summary, a ragged or cut row, or readings behind a text. */
  private readOdd(bytes: Uint8Array, row: RowSpan, cut: boolean): void {
    const { width, repeats } = this.dialect;
    const asItStands = splitRow(bytes, row, this.delimiter, this.decoder);
    const cells = trimmed(asItStands, width);
    if (isEmptyRow(cells)) return;
    if (repeats.includes(asItStands.join('\u0001'))) this.counts.repeated++;
    else if (isSummary(cells[0])) this.counts.summary++;
    else if (cells.length !== width) this.counts[cut && cells.length < width ? 'partial' : 'ragged']++;
    else if (startsWithLetter(bytes, row.from) && this.readCells(bytes, row.from, row.to)) this.rows++;
    else if (cells.some(isSummary)) this.counts.summary++;
    else this.counts.ragged++;
  }

  private grow(): void {
    this.capacity = Math.ceil(this.capacity * 1.6);
    this.times.grow(this.capacity);
    for (const [i, old] of this.values.entries()) {
      if (old === null) continue;
      const wider = new Float64Array(this.capacity);
      wider.set(old);
      this.values[i] = wider;
    }
  }

  /**
   * Times and columns of all rows whose time can be relied on; the others are counted out.
   * @throws AmbiguousDates where day and month could be either way round
   */
  finish(dayFirst?: boolean): {
    times: ParsedTimes;
    columns: { index: number; values: Float64Array; text: boolean }[];
    clock: ClockRepair;
  } {
    const { columns, unitFactor } = this.layout.time;
    const times = this.times.finish(this.rows, this.layout.named[columns[0]].name, unitFactor, dayFirst);
    const { seconds } = times;
    const readings = this.values.flatMap((v, i) => (v === null || this.numbers[i] === 0 ? [] : [v]));
    const { kept, repair } = repairClock(seconds, { local: times.absolute && !times.zoned, columns: readings });
    let unreadable = 0;
    for (let i = 0; i < this.rows; i++) if (!Number.isFinite(seconds[i])) unreadable++;
    this.counts.ragged += unreadable;
    this.counts.out_of_order += this.rows - unreadable - kept.length;
    if (kept.length < this.rows) {
      for (let k = 0; k < kept.length; k++) {
        seconds[k] = seconds[kept[k]];
        for (const v of this.values) if (v !== null) v[k] = v[kept[k]];
      }
    }
    const count = kept.length;
    times.seconds = seconds.subarray(0, count);
    return {
      times,
      columns: this.values.flatMap((v, index) =>
        v === null ? [] : [{ index, values: v.subarray(0, count), text: this.texts[index] === 1 && this.numbers[index] === 0 }],
      ),
      clock: repair,
    };
  }
}

/** True for a row whose first cell begins with a letter, in quotes or not: a name, a summary, a repeated header. */
function startsWithLetter(bytes: Uint8Array, from: number): boolean {
  const byte = bytes[bytes[from] === QUOTE ? from + 1 : from];
  return (byte >= 65 && byte <= 90) || (byte >= 97 && byte <= 122);
}
