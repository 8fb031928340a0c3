import { TYPED_QUANTITIES } from '#core/signal/reduce/typedReading';
import { TYPED_FIELDS, type TypedEvent, type TypedField, type TypedValues, textProblem, valuesProblem, withoutEmpty } from './typedRun';
import type { TypedRow } from './typedTable';

/** A column that holds a reading without saying which, as in the table of run values; it is asked before the table is stored. */
export const VALUE_COLUMN = 'value';

/** A column of a table of readings: where the run belongs, one of its readings, or a named part of the device. */
export type ReadingColumn =
  | 'specimen'
  | 'rig'
  | 'mount'
  | 'load'
  | 'read_at'
  | 'note'
  | TypedField
  | `part:${string}`
  | `event:${string}`
  | typeof VALUE_COLUMN;

/** Cells of one row by column, as they were typed or pasted. */
export type ReadingCells = Partial<Record<ReadingColumn, string>>;

/** Columns that say where a run belongs, with the words that a header may use for them. */
const PLACES: Record<'specimen' | 'rig' | 'mount' | 'load' | 'read_at' | 'note', string[]> = {
  specimen: ['specimen', 'material', 'cooler', 'state', 'sample', 'paste', 'name'],
  rig: ['rig', 'device', 'bench', 'unit', 'machine'],
  mount: ['mount', 'application', 'mount no', 'mount number'],
  load: ['load', 'scene', 'program', 'test'],
  read_at: ['date', 'read on', 'time', 'day', 'date and time'],
  note: ['note', 'notes', 'comment', 'remark'],
};

/** Further words for readings, beside their own labels. */
const WORDS: Partial<Record<TypedField, string[]>> = {
  mean_c: ['mean', 'temperature', 'average', 'temp', 'mean temperature'],
  max_c: ['max', 'peak', 'maximum', 'highest'],
  hottest_c: ['hottest', 'hot spot', 'hotspot'],
  coldest_c: ['coldest'],
  idle_c: ['idle'],
  room_c: ['ambient', 'room temperature'],
  rise_k: ['rise', 'delta', 'dt', 'δt'],
  exhaust_c: ['exhaust'],
  throttle_pct: ['throttled', 'throttle'],
  frame_rate: ['fps', 'frames'],
  slow_frame_rate: ['1 % low', '1% low', 'slow frames', 'low'],
  frame_time_s: ['frame time'],
};

const plain = (text: string): string =>
  text
    .toLowerCase()
    .replace(/[[(/].*$/, '')
    .trim();

/**
 * The column that a header names; `value` where it says only that, null where it names none.
 * @param named columns of named parts and events that the table has
 */
export function columnOf(header: string, named: ReadingColumn[]): ReadingColumn | null {
  const word = plain(header);
  const own = named.find((c) => c.slice(c.indexOf(':') + 1).toLowerCase() === word);
  if (own !== undefined) return own;
  for (const [column, words] of Object.entries(PLACES)) if (words.includes(word)) return column as ReadingColumn;
  const field = TYPED_FIELDS.find((f) => f === header.trim() || plain(TYPED_QUANTITIES[f].label) === word || WORDS[f]?.includes(word));
  return field ?? (word === VALUE_COLUMN ? VALUE_COLUMN : null);
}

/** What the header of a pasted table says of its columns; null where the first row is no header. */
export interface ReadingHeader {
  columns: (ReadingColumn | null)[];
  /** headers that nothing is known of; `run` is counted by itself */
  unknown: string[];
}

/** Reads a header; it must name what was measured and at least one column more. */
export function readingHeader(cells: string[], named: ReadingColumn[]): ReadingHeader | null {
  const columns = cells.map((c) => columnOf(c, named));
  if (!columns.includes('specimen') || columns.filter((c) => c !== null).length < 2) return null;
  return { columns, unknown: cells.filter((c, i) => columns[i] === null && c.trim() !== '' && plain(c) !== 'run') };
}

/** Does a text look like a table of readings, a row a run, rather than a log? Its header names what was measured and a reading. */
export function isReadingTable(header: string[]): boolean {
  const read = readingHeader(header, []);
  return (read?.columns ?? []).some((c) => c === VALUE_COLUMN || (TYPED_FIELDS as (string | null)[]).includes(c));
}

/** Is it asked what a column called "value" holds? */
export const isValueOpen = (rows: ReadingCells[]): boolean => rows.some((cells) => (cells[VALUE_COLUMN] ?? '').trim() !== '');

/** A row whose value is a reading of a field; one that has no value stays as it is. */
export function valueAs(cells: ReadingCells, field: TypedField): ReadingCells {
  const { [VALUE_COLUMN]: value, ...rest } = cells;
  return value?.trim() ? { ...rest, [field]: value } : rest;
}

const DAY = /^(\d{4})-(\d{1,2})-(\d{1,2})(?:[T ]+(\d{1,2}):(\d{2}))?/;
const POINTED = /^(\d{1,2})\.(\d{1,2})\.(\d{4})(?:[ ,]+(\d{1,2}):(\d{2}))?/;

/** A day, with a time or without: 2026-06-04, 2026-06-04 14:30 or 4.6.2026; noon where no time is given. Null where it is none. */
export function readDate(text: string): Date | null {
  const iso = DAY.exec(text.trim());
  const pointed = iso ? null : POINTED.exec(text.trim());
  const [year, month, day, hour, minute] = iso
    ? [iso[1], iso[2], iso[3], iso[4], iso[5]].map((v) => Number(v ?? Number.NaN))
    : pointed
      ? [pointed[3], pointed[2], pointed[1], pointed[4], pointed[5]].map((v) => Number(v ?? Number.NaN))
      : [];
  if (year === undefined) return null;
  const date = new Date(year, month - 1, day, Number.isNaN(hour) ? 12 : hour, Number.isNaN(minute) ? 0 : minute);
  return date.getMonth() === month - 1 && date.getDate() === day ? date : null;
}

/** A time by the stopwatch; with > before it the event had not come by then. */
function eventOf(event: string, text: string): TypedEvent {
  const over = /^\s*(>|over\b)\s*/i.exec(text);
  return { event, time: over ? text.slice(over[0].length) : text, reached: over === null };
}

const valuesOf = (cells: ReadingCells): TypedValues =>
  withoutEmpty({
    texts: Object.fromEntries(TYPED_FIELDS.map((f) => [f, cells[f] ?? ''])),
    note: cells.note,
    events: Object.entries(cells).flatMap(([c, text]) =>
      c.startsWith('event:') && text?.trim() ? [eventOf(c.slice('event:'.length), text)] : [],
    ),
    parts: Object.entries(cells).flatMap(([c, text]) => (c.startsWith('part:') ? [{ name: c.slice('part:'.length), text }] : [])),
  });

/** Is nothing typed in a row besides where it belongs? Such rows are passed over. */
export const isEmptyRow = (cells: ReadingCells): boolean =>
  Object.entries(cells).every(([column, text]) => (text ?? '').trim() === '' || column in PLACES);

/** The sentence that says why a row cannot be stored, with the column it is about; null where it can. */
export function rowProblem(cells: ReadingCells, hasRig: boolean): { column: ReadingColumn; problem: string } | null {
  if (!cells.specimen?.trim()) return { column: 'specimen', problem: 'Say what was measured.' };
  if (!hasRig && !cells.rig?.trim()) return { column: 'rig', problem: 'Say on which rig or device it was measured.' };
  const mount = cells.mount?.trim() ?? '';
  if (mount !== '' && !/^[1-9]\d{0,4}$/.test(mount))
    return { column: 'mount', problem: `"${mount}" is no mount; it is a whole number from 1.` };
  const date = cells.read_at?.trim() ?? '';
  if (date !== '' && readDate(date) === null)
    return { column: 'read_at', problem: `"${date}" is no day; write it as 2026-06-04 or 4.6.2026, with a time behind it or without.` };
  for (const field of TYPED_FIELDS) {
    const problem = textProblem(field, cells[field] ?? '');
    if (problem) return { column: field, problem };
  }
  for (const [column, text] of Object.entries(cells)) {
    if (!column.startsWith('event:') || !text?.trim()) continue;
    const problem = textProblem('run_time_s', eventOf('', text).time ?? '');
    if (problem) return { column: column as ReadingColumn, problem };
  }
  const problem = valuesProblem(valuesOf(cells));
  return problem ? { column: 'specimen', problem } : null;
}

/** A row as it is sent. */
export function typedRow(cells: ReadingCells, import_id: string): TypedRow {
  const date = readDate(cells.read_at ?? '');
  return {
    ...valuesOf(cells),
    ...{ import_id, specimen: (cells.specimen ?? '').trim(), rig: cells.rig?.trim() || null, load: cells.load?.trim() || null },
    mount: cells.mount?.trim() ? Number(cells.mount) : null,
    read_at: date ? date.toISOString() : null,
  };
}
