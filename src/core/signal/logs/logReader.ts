import { delimiterByte, RowWalker } from './cells';
import { usualStep } from './clock';
import { readColumns } from './columns';
import { type Encoding, guessEncoding, refuseBinary, refuseLarge } from './decode';
import { type Dialect, detectDialect } from './dialect';
import { type FileLayout, readLayout } from './layout';
import { Readings } from './readings';
import { AmbiguousDates, type ParsedTimes } from './times';
import { type Log, LogError, type LogOptions } from './types';

/** Bytes of a file's beginning from which its layout is told. */
const HEAD_BYTES = 512 * 1024;
/** Longest row in bytes. */
const MOST_ROW_BYTES = 4 * 1024 * 1024;

/** What is settled once the beginning of a file was seen. */
interface Settled {
  dialect: Dialect;
  layout: FileLayout;
  readings: Readings;
}

/**
 * Reads a log piece by piece as its bytes come, so that a large file is never held as a whole: its beginning settles encoding, layout and
 * times, then every row goes straight into the columns.
 */
export class LogReader {
  private encoding: Encoding | null = null;
  private decoder = new TextDecoder();
  /** turns UTF-16 into UTF-8, in which rows are read */
  private transcoder: TextDecoder | null = null;
  private settled: Settled | null = null;
  /** bytes that were not read yet: the beginning, later the row that is still open */
  private rest: Uint8Array = new Uint8Array(0);
  private total = 0;

  /**
   * @param file name for messages
   * @param expected size of the file in bytes, where it is known
   */
  constructor(
    private readonly file: string,
    private readonly options: LogOptions = {},
    private readonly expected: number | null = null,
  ) {
    refuseLarge(file, expected ?? 0);
  }

  /** @throws LogError where the file cannot be read */
  feed(bytes: Uint8Array): void {
    this.total += bytes.length;
    refuseLarge(this.file, this.total);
    this.take(bytes);
  }

  private take(bytes: Uint8Array): void {
    let piece = this.rest.length === 0 ? bytes : joined(this.rest, bytes);
    if (this.encoding === null) {
      if (piece.length < HEAD_BYTES && !this.ended) {
        this.rest = piece === bytes ? piece.slice() : piece;
        return;
      }
      piece = this.settleEncoding(piece);
    } else if (this.transcoder) piece = joined(this.rest, new TextEncoder().encode(this.transcoder.decode(bytes, { stream: true })));
    let at = 0;
    if (!this.settled) {
      // a head that ends within its first row waits for more
      if (!this.ended && !hasRows(piece)) {
        this.keep(piece, 0);
        return;
      }
      at = this.settle(piece);
    }
    this.keep(piece, this.readRows(piece, at));
  }

  private ended = false;

  private settleEncoding(piece: Uint8Array): Uint8Array {
    this.encoding = guessEncoding(piece.subarray(0, HEAD_BYTES));
    const { label, skip } = this.encoding;
    const body = piece.subarray(skip);
    if (label === 'utf-16le' || label === 'utf-16be') {
      this.transcoder = new TextDecoder(label);
      const text = this.transcoder.decode(body, { stream: true });
      refuseBinary(this.file, text);
      return new TextEncoder().encode(text);
    }
    this.decoder = new TextDecoder(label);
    refuseBinary(this.file, this.decoder.decode(body.subarray(0, 4096), { stream: true }));
    this.decoder = new TextDecoder(label);
    return body;
  }

  /** Settles the layout from the head of the file and says at which byte the data begin. */
  private settle(piece: Uint8Array): number {
    const head = piece.length > HEAD_BYTES ? piece.subarray(0, headEnd(piece)) : piece;
    const whole = this.ended && head.length === piece.length;
    const dialect = detectDialect(this.file, head, whole, this.decoder, this.options);
    const layout = readLayout(this.file, dialect, this.options);
    const rows = dialect.rows.length - dialect.data;
    const left = Math.max(head.length, (this.expected ?? 4 * HEAD_BYTES) * (this.transcoder ? 0.5 : 1));
    const expected = 16 + 1.02 * rows * ((left - dialect.data_at) / Math.max(1, head.length - dialect.data_at));
    this.settled = { dialect, layout, readings: new Readings(dialect, layout, this.decoder, expected) };
    return dialect.data_at;
  }

  /** Reads the rows of a piece and says where the first begins that is not complete. */
  private readRows(piece: Uint8Array, from: number): number {
    const { dialect, readings } = this.settled as Settled;
    const walker = new RowWalker(piece, dialect.newline, delimiterByte(dialect.delimiter), this.ended);
    let at = from;
    for (let row = walker.rowAt(at); row !== null; row = walker.rowAt(at)) {
      if (row.to - row.from > MOST_ROW_BYTES) throw this.rowTooLong();
      readings.readRow(piece, row);
      at = row.next;
    }
    return at;
  }

  private keep(piece: Uint8Array, from: number): void {
    if (piece.length - from > MOST_ROW_BYTES) throw this.rowTooLong();
    this.rest = piece.slice(from);
  }

  private rowTooLong(): LogError {
    return new LogError(this.file, `a row is longer than ${MOST_ROW_BYTES / 1048576} MB; a log has one short line per reading.`);
  }

  /**
   * The log, when all bytes were fed.
   * @throws LogError where the file cannot be read
   */
  end(): Log {
    if (this.total === 0) throw new LogError(this.file, 'the file is empty; a log with a header and rows of readings is needed.');
    this.ended = true;
    this.take(new Uint8Array(0));
    const { dialect, layout, readings } = this.settled as Settled;
    if (this.rest.length > 0) readings.readRow(this.rest, { from: 0, to: this.rest.length, next: this.rest.length }, true);
    const { file } = this;
    const { headers, named, preview } = layout;
    const name = named[layout.time.columns[0]].name;
    if (readings.rows === 0) throw new LogError(file, 'there is a header but no full row of readings below it.', { row: dialect.data + 1 });
    const { times, columns, clock } = this.finish(readings, name);
    const t = times.seconds;
    if (t.length < 2)
      throw new LogError(file, 'fewer than two rows carry a readable time; rows of rising times are needed.', { column: name });
    refuseTimes(file, name, times);
    const origin = t[0];
    for (let i = 0; i < t.length; i++) t[i] -= origin;
    for (const jump of [...clock.changes, ...clock.steps]) jump.at_s -= origin;
    return {
      ...{ file, encoding: (this.encoding as Encoding).name, delimiter: dialect.delimiter, decimal: dialect.decimal },
      header_line: dialect.header === null ? null : dialect.header + 1,
      unit_line: dialect.unit === null ? null : dialect.unit + 1,
      first_data_line: dialect.data + 1,
      time: {
        columns: layout.time.columns.map((i) => named[i].name),
        format: times.format,
        start_epoch_s: times.absolute ? origin : null,
        zoned: times.zoned,
      },
      t,
      columns: readColumns(
        columns.map((c) => ({ ...named[c.index], ...c })),
        this.options,
      ),
      ...{ rows: readings.counts, clock, preview, headers },
    };
  }

  private finish(readings: Readings, column: string): ReturnType<Readings['finish']> {
    const { dialect, layout } = this.settled as Settled;
    try {
      return readings.finish(this.options.day_first);
    } catch (error) {
      if (!(error instanceof AmbiguousDates)) throw error;
      throw new LogError(
        this.file,
        `"${layout.time.first}" can be read with the day or the month first; say which of the two it is, day first or month first.`,
        { row: dialect.data + 1, column },
        'day_order',
      );
    }
  }
}

/** Shortest usual step between rows, s (a millisecond, but for the rounding of dates), and the last year that a log may be from. */
const LEAST_STEP_S = 0.999e-3;
const LAST_YEAR = 2200;

/** @throws LogError for times that no bench logger writes */
function refuseTimes(file: string, column: string, { seconds, absolute }: ParsedTimes): void {
  const step = usualStep(seconds);
  if (step < LEAST_STEP_S) {
    throw new LogError(
      file,
      `its rows are ${step.toPrecision(2)} s apart; steps of a millisecond or more are read. Is the time in another unit than seconds?`,
      { column },
    );
  }
  const last = seconds[seconds.length - 1];
  if (absolute && !(last < Date.UTC(LAST_YEAR, 0) / 1000))
    throw new LogError(file, `its times lie beyond the year ${LAST_YEAR}; a date or an elapsed time in seconds is needed.`, { column });
}

function joined(a: Uint8Array, b: Uint8Array): Uint8Array {
  if (a.length === 0) return b;
  const both = new Uint8Array(a.length + b.length);
  both.set(a);
  both.set(b, a.length);
  return both;
}

/** True where at least two rows end within the bytes. */
function hasRows(bytes: Uint8Array): boolean {
  const newline = bytes.includes(10) ? 10 : 13;
  const first = bytes.indexOf(newline);
  return first >= 0 && bytes.indexOf(newline, first + 1) >= 0;
}

/** Place behind the last whole row of the head, and at least behind the second. */
function headEnd(bytes: Uint8Array): number {
  const newline = bytes.includes(10) ? 10 : 13;
  const last = bytes.lastIndexOf(newline, HEAD_BYTES);
  const first = bytes.indexOf(newline);
  return last > first ? last + 1 : bytes.indexOf(newline, first + 1) + 1 || bytes.length;
}
