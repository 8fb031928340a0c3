import { isOtherUnit, parseUnit, toBase, UNITS, type Unit } from '../units/units';
import { decodeLog } from './decode';
import { type Dialect, detectDialect } from './dialect';
import { isMissing, parseNumber, unitOfCell } from './numbers';
import { guessRoles } from './roles';
import { AmbiguousDates, isDateOnly, isTimeOfDay, looksLikeTime, type ParsedTimes, parseTimes } from './times';
import { type Log, type LogColumn, LogError, type LogOptions, type RowCounts } from './types';

const PREVIEW_ROWS = 6;
const SUMMARY = /^(min|max|avg|average|mean|median|sum|total|std|stdev|sd|count|minimum|maximum)\b/i;
const TIME_NAME = /^(date ?[/&]? ?time|time ?stamp|time|date|elapsed( time)?|seconds?|secs?|t|clock time|recorded( at)?|when)$/i;

/**
 * Reads one log file. Every guess (encoding, layout, times, units, roles) is part of the result and can be overruled.
 * @param file name for messages
 * @throws LogError with file, row and column where the file cannot be read
 */
export function readLog(file: string, bytes: Uint8Array, options: LogOptions = {}): Log {
  const { text, encoding } = decodeLog(file, bytes);
  const dialect = detectDialect(file, text, options);
  const headers = headerCells(dialect);
  const named = splitHeaders(headers);
  const { kept, counts } = keepRows(dialect);
  if (kept.length === 0) throw new LogError(file, 'there is a header but no full row of readings below it.', { row: dialect.data + 1 });
  const unitRow = dialect.unit === null ? null : dialect.rows[dialect.unit].map((c) => c.trim().replace(/^[[(]|[\])]$/g, ''));
  for (const [i, h] of named.entries()) {
    h.unit = options.units?.[h.name] ?? h.unit ?? (unitRow ? parseUnit(unitRow[i] ?? '') : null) ?? unitOfCell(kept[0][i] ?? '');
    h.other = h.unit === null && (h.other || isOtherUnit(unitRow?.[i] ?? ''));
  }

  const { times, columns: timeColumns } = findTimes(file, kept, named, dialect, options);
  const inOrder = orderRows(kept, times, counts);
  if (inOrder.length < 2)
    throw new LogError(file, 'fewer than two rows carry a readable time; rows of rising times are needed.', { column: named[timeColumns[0]].name });
  const origin = times.seconds[inOrder[0]];
  const t = Float64Array.from(inOrder, (i) => times.seconds[i] - origin);
  const columns = readColumns(kept, inOrder, named, dialect, timeColumns, options);

  return {
    file,
    encoding,
    delimiter: dialect.delimiter,
    decimal: dialect.decimal,
    header_line: dialect.header === null ? null : dialect.header + 1,
    unit_line: dialect.unit === null ? null : dialect.unit + 1,
    first_data_line: dialect.data + 1,
    time: {
      columns: timeColumns.map((i) => named[i].name),
      format: times.format,
      start_epoch_s: times.absolute ? origin : null,
      zoned: times.zoned,
    },
    t,
    columns,
    rows: counts,
    preview: kept.slice(0, PREVIEW_ROWS),
    headers,
  };
}

/** Names of the columns on one line each: a quoted header may be broken over lines. */
function headerCells(dialect: Dialect): string[] {
  const header = dialect.header === null ? [] : dialect.rows[dialect.header];
  return Array.from({ length: dialect.width }, (_, i) => header[i]?.replace(/\s+/g, ' ').trim() || `Column ${i + 1}`);
}

interface Header {
  /** without its unit, and unlike every other name of the file */
  name: string;
  unit: Unit | null;
  /** the unit is one of a quantity that no role reads */
  other: boolean;
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
  const bracket = /^(.*?)\s*[([{]([^()[\]{}]*(?:\([^()]*\))?)[)\]}]\s*$/.exec(header);
  if (bracket && bracket[1] !== '' && (parseUnit(bracket[2]) !== null || isOtherUnit(bracket[2]))) return { name: bracket[1], unit: bracket[2] };
  const trailing = /^(.*?)[\s,/_]+(°C|°F|MHz|GHz|RPM|mW|dBA?|%)$/i.exec(header);
  if (trailing && trailing[1] !== '') return { name: trailing[1], unit: trailing[2] };
  return { name: header, unit: '' };
}

/** Takes the full data rows and counts what is left out: cut, ragged, repeated header and summary rows. */
function keepRows(dialect: Dialect): { kept: string[][]; counts: RowCounts } {
  const counts: RowCounts = { partial: 0, ragged: 0, repeated: 0, summary: 0, out_of_order: 0 };
  const header = dialect.header === null ? null : dialect.rows[dialect.header].join('\u0001');
  const unit = dialect.unit === null ? null : dialect.rows[dialect.unit].join('\u0001');
  const kept: string[][] = [];
  let last = dialect.rows.length - 1;
  while (last >= dialect.data && isEmptyRow(dialect.rows[last])) last--;
  for (let i = dialect.data; i <= last; i++) {
    let row = dialect.rows[i];
    if (isEmptyRow(row)) continue;
    while (row.length > dialect.width && row[row.length - 1].trim() === '') row = row.slice(0, -1);
    const joined = row.join('\u0001');
    if (joined === header || joined === unit) counts.repeated++;
    else if (SUMMARY.test(row[0].trim())) counts.summary++;
    else if (row.length === dialect.width) kept.push(row);
    else if (i === last && dialect.open_end && row.length < dialect.width) counts.partial++;
    else counts.ragged++;
  }
  return { kept, counts };
}

function isEmptyRow(row: string[]): boolean {
  return row.every((c) => c.trim() === '');
}

function findTimes(file: string, kept: string[][], named: Header[], dialect: Dialect, options: LogOptions): { times: ParsedTimes; columns: number[] } {
  const probe = kept[Math.min(kept.length - 1, 1)];
  const cellsOf = (i: number) => kept.map((row) => row[i] ?? '');
  const dateOnly = probe.findIndex(isDateOnly);
  const clock = probe.findIndex(isTimeOfDay);
  const byName = named.findIndex((h, i) => TIME_NAME.test(h.name) && (looksLikeTime(probe[i]) || !Number.isNaN(parseNumber(probe[i], dialect.decimal))));
  const timeLike = probe.findIndex(looksLikeTime);
  let columns: number[];
  if (dateOnly >= 0 && clock >= 0) columns = [dateOnly, clock];
  else if (byName >= 0) columns = [byName];
  else if (timeLike >= 0) columns = [timeLike];
  else columns = risingColumn(kept, dialect);
  if (columns.length === 0) {
    throw new LogError(file, 'no column holds times; a column of dates and times, times of day or elapsed seconds is needed.', { row: dialect.data + 1 });
  }
  const cells = columns.length === 2 ? kept.map((row) => `${row[columns[0]].trim()} ${row[columns[1]].trim()}`) : cellsOf(columns[0]);
  const { unit } = named[columns[0]];
  const factor = unit === 'ms' || unit === 'min' ? UNITS[unit].factor : 1;
  try {
    const times = parseTimes(cells, named[columns[0]].name, factor, dialect.decimal, parseNumber, options.day_first);
    if (times) return { times, columns };
  } catch (error) {
    if (!(error instanceof AmbiguousDates)) throw error;
    throw new LogError(
      file,
      `"${cells[0].trim()}" can be read with the day or the month first; say which of the two it is, day first or month first.`,
      { row: dialect.data + 1, column: named[columns[0]].name },
      'day_order',
    );
  }
  throw new LogError(file, `"${cells[0].trim()}" cannot be read as a time; ISO dates, d.m.yyyy h:mm:ss, epoch or elapsed seconds are read.`, {
    row: dialect.data + 1,
    column: named[columns[0]].name,
  });
}

/** Without a name or form of a time: the first column whose numbers only ever rise. */
function risingColumn(kept: string[][], dialect: Dialect): number[] {
  for (let i = 0; i < Math.min(dialect.width, 3); i++) {
    const values = kept.slice(0, 500).map((row) => parseNumber(row[i], dialect.decimal));
    if (values.length > 2 && values.every((v, k) => !Number.isNaN(v) && (k === 0 || v > values[k - 1]))) return [i];
  }
  return [];
}

/** Indices of the rows whose time rises; rows that run back, repeat or carry no time are counted out. */
function orderRows(kept: string[][], times: ParsedTimes, counts: RowCounts): number[] {
  const inOrder: number[] = [];
  let latest = Number.NEGATIVE_INFINITY;
  for (let i = 0; i < kept.length; i++) {
    const s = times.seconds[i];
    if (Number.isNaN(s)) {
      if (kept[i].some((c) => SUMMARY.test(c.trim()))) counts.summary++;
      else counts.ragged++;
    } else if (s <= latest) counts.out_of_order++;
    else {
      latest = s;
      inOrder.push(i);
    }
  }
  return inOrder;
}

function readColumns(kept: string[][], inOrder: number[], named: Header[], dialect: Dialect, timeColumns: number[], options: LogOptions): LogColumn[] {
  const raw = named.flatMap((h, index) => {
    if (timeColumns.includes(index)) return [];
    const values = Float64Array.from(inOrder, (i) => parseNumber(kept[i][index] ?? '', dialect.decimal));
    const text = values.every(Number.isNaN) && inOrder.some((i) => !isMissing(kept[i][index] ?? ''));
    return [{ index, name: h.name, unit: h.unit, other: h.other, values, text }];
  });
  const guesses = guessRoles(raw);
  const explicit = new Set(Object.values(options.roles ?? {}));
  return raw.map((column, i) => {
    const given = options.roles?.[column.name];
    const isPrimary = given === undefined && column.name === options.sensor;
    const displaced = !options.keep_guesses && given === undefined && !isPrimary && guesses[i].role !== 'ignore' && explicit.has(guesses[i].role);
    const role = given ?? (isPrimary ? 'sensor' : column.text || displaced ? 'ignore' : guesses[i].role);
    const reason = given ? 'given by hand' : displaced ? `another column was given as ${guesses[i].role}` : column.text ? 'holds text' : guesses[i].reason;
    const unit = column.unit ?? (column.other ? null : impliedUnit(role));
    const base = unit === null ? column.values : column.values.map((v) => toBase(v, unit));
    return { index: column.index, name: column.name, unit, role, reason, values: base, resolution: smallestStep(column.values, unit) };
  });
}

/** Unit to assume for a role where the file names none. */
function impliedUnit(role: LogColumn['role']): Unit | null {
  const implied: Partial<Record<LogColumn['role'], Unit>> = {
    sensor: 'degC',
    ambient: 'degC',
    coolant: 'degC',
    exhaust: 'degC',
    power: 'W',
    clock: 'MHz',
    fan: 'rpm',
    load: 'percent',
    noise: 'dB',
    voltage: 'V',
  };
  return implied[role] ?? null;
}

/** Smallest difference between readings that follow each other, in the core's unit. */
function smallestStep(values: Float64Array, unit: Unit | null): number | null {
  let least = Number.POSITIVE_INFINITY;
  let before = Number.NaN;
  for (const v of values) {
    const step = Math.abs(v - before);
    if (step > 1e-9 * Math.abs(v) && step < least) least = step;
    if (!Number.isNaN(v)) before = v;
  }
  if (!Number.isFinite(least)) return null;
  return Number(least.toPrecision(6)) * (unit === null ? 1 : UNITS[unit].factor);
}
