import { cellText, scanNumber, scanned } from './cells';
import { AmbiguousDates, type Form, finishClockTimes, finishNumericTimes, type ParsedTimes, timeOfCell } from './times';

const COLON = 58;
const COMMA = 44;
const POINT = 46;
const BLANK = 32;

/** A stretch of bytes that is kept to be compared with the next row's. */
class KeptBytes {
  private bytes = new Uint8Array(64);
  private length = -1;

  is(bytes: Uint8Array, from: number, to: number): boolean {
    if (to - from !== this.length) return false;
    for (let i = 0; i < this.length; i++) if (bytes[from + i] !== this.bytes[i]) return false;
    return true;
  }

  keep(bytes: Uint8Array, from: number, to: number): void {
    this.length = to - from > 64 ? -1 : to - from;
    if (this.length > 0) this.bytes.set(bytes.subarray(from, to));
  }
}

/**
 * The times of a file, row by row. Most rows share date, hour and minute with the row before: then only the seconds are read.
 * How the whole column is to be taken (day or month first, midnight, spreadsheet days) is decided at its end.
 */
export class TimeColumn {
  private raw: Float64Array;
  /** with the month first, where the dates may be either way round */
  private monthFirst: Float64Array | null;
  private zoned = false;
  private halves = false;
  private firstOver = false;
  private secondOver = false;
  private readonly date = new KeptBytes();
  private readonly minute = new KeptBytes();
  private readonly suffix = new KeptBytes();
  private base = Number.NaN;
  private otherBase = Number.NaN;

  constructor(
    private readonly form: Form,
    private readonly decimal: number,
    private readonly decoder: TextDecoder,
    private readonly toNumber: (cell: string) => number,
    capacity: number,
  ) {
    this.raw = new Float64Array(capacity);
    this.monthFirst = form === 'slashed' ? new Float64Array(capacity) : null;
  }

  grow(capacity: number): void {
    const wider = (a: Float64Array) => {
      const b = new Float64Array(capacity);
      b.set(a);
      return b;
    };
    this.raw = wider(this.raw);
    this.monthFirst &&= wider(this.monthFirst);
  }

  /**
   * Reads the time of a row from its cell, or from a cell of the date and one of the time of day.
   * @param row where it is put
   * @returns false where it is no time
   */
  read(row: number, bytes: Uint8Array, from: number, to: number, dateFrom = 0, dateTo = 0): boolean {
    if (this.form === 'number') {
      const quick = scanNumber(bytes, from, to, this.decimal);
      const value = !Number.isNaN(quick) && scanned.end === to ? quick : this.toNumber(cellText(bytes, from, to, this.decoder));
      this.raw[row] = value;
      return !Number.isNaN(value);
    }
    let colon = bytes.indexOf(COLON, from);
    colon = colon < 0 || colon >= to ? -1 : bytes.indexOf(COLON, colon + 1);
    const minuteEnd = colon < 0 || colon >= to ? -1 : colon + 1;
    if (minuteEnd > 0 && this.minute.is(bytes, from, minuteEnd) && (dateTo === dateFrom || this.date.is(bytes, dateFrom, dateTo))) {
      const seconds = secondsAt(bytes, minuteEnd, to);
      if (seconds < 61 && this.suffix.is(bytes, scanned.end, to)) {
        this.raw[row] = this.base + seconds;
        if (this.monthFirst) this.monthFirst[row] = this.otherBase + seconds;
        return true;
      }
    }
    return this.readSlowly(row, bytes, from, to, dateFrom, dateTo, minuteEnd);
  }

  private readSlowly(
    row: number,
    bytes: Uint8Array,
    from: number,
    to: number,
    dateFrom: number,
    dateTo: number,
    minuteEnd: number,
  ): boolean {
    const clock = cellText(bytes, from, to, this.decoder);
    const text = dateTo > dateFrom ? `${cellText(bytes, dateFrom, dateTo, this.decoder).trim()} ${clock.trim()}` : clock;
    const form = this.form as Exclude<Form, 'number'>;
    const { seconds, month_first, zoned, halves } = timeOfCell(text, form);
    this.raw[row] = seconds;
    if (this.monthFirst) this.monthFirst[row] = month_first;
    if (Number.isNaN(seconds) && Number.isNaN(month_first)) return false;
    this.zoned ||= zoned;
    this.halves ||= halves;
    if (form === 'slashed') {
      const [first, second] = text.trim().split(/[/-]/).map(Number);
      this.firstOver ||= first > 12;
      this.secondOver ||= second > 12;
    }
    const within = minuteEnd > 0 ? secondsAt(bytes, minuteEnd, to) : Number.NaN;
    if (within >= 0) {
      this.minute.keep(bytes, from, minuteEnd);
      this.date.keep(bytes, dateFrom, dateTo);
      this.suffix.keep(bytes, scanned.end, to);
      // a minute begins at a whole second in every zone
      this.base = Math.round(seconds - within);
      this.otherBase = Math.round(month_first - within);
    }
    return true;
  }

  /** Moves a row's time to an earlier place. */
  move(from: number, to: number): void {
    this.raw[to] = this.raw[from];
    if (this.monthFirst) this.monthFirst[to] = this.monthFirst[from];
  }

  /**
   * The whole column, when the last row was read.
   * @param name the column's name, which may say that the times are elapsed ones
   * @param unitFactor seconds per unit of a plain number
   * @throws AmbiguousDates where day and month could be either way round and dayFirst is not given
   */
  finish(rows: number, name: string, unitFactor: number, dayFirst?: boolean): ParsedTimes {
    const seconds = this.raw.subarray(0, rows);
    if (this.form === 'number') return finishNumericTimes(seconds, name, unitFactor);
    if (this.form === 'clock') return finishClockTimes(seconds, name, this.halves);
    if (this.form !== 'slashed') {
      const format = this.form === 'dotted' ? 'dotted_date' : this.form === 'named' ? 'month_name' : 'iso';
      return { format, seconds, absolute: true, zoned: this.zoned };
    }
    const told = this.firstOver !== this.secondOver ? this.firstOver : dayFirst;
    if (told === undefined) throw new AmbiguousDates();
    return {
      format: told ? 'day_month' : 'month_day',
      seconds: told ? seconds : (this.monthFirst as Float64Array).subarray(0, rows),
      absolute: true,
      zoned: false,
    };
  }
}

/** Seconds with their fraction behind a minute's colon; NaN where there are none. */
function secondsAt(bytes: Uint8Array, from: number, to: number): number {
  if (bytes[from] === BLANK) return Number.NaN;
  const seconds = scanNumber(bytes, from, to, POINT);
  return scanned.end < to && bytes[scanned.end] === COMMA ? scanNumber(bytes, from, to, COMMA) : seconds;
}
