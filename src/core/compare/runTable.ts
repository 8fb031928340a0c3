import Papa from 'papaparse';
import { parseNumber } from '#core/signal/logs/numbers';
import { type Decimal, LogError } from '#core/signal/logs/types';
import { median } from '#core/stats/quantiles';
import { unguarded } from '#core/text/csv';
import type { AnalysisRow } from './rows';
import type { AnalysisOptions, BlockBy } from './types';

const REQUIRED = ['specimen', 'mount', 'value'];
const MAX_ROWS = 200_000;
const MOST_VALUE = 1e6;
/** Most bytes of the choices that a table carries. */
const MOST_CHOICES = 20_000;

/** Choices that a table carries in its comment lines, so that it gives the verdicts of the study it came from. */
export type TableChoices = Partial<
  Pick<
    AnalysisOptions,
    | 'reference'
    | 'margin'
    | 'confidence'
    | 'scatter'
    | 'family'
    | 'block'
    | 'default_mount_sd'
    | 'borrowed'
    | 'fixed_states'
    | 'unplanned_look'
    | 'one_kind'
  >
> & { load?: string | null };

interface RunTable {
  rows: AnalysisRow[];
  /** 1 K, or what 1 K is in K/W at the table's median power; what the table says itself goes before it */
  default_margin: number;
  choices: TableChoices;
  /** loads that the rows name, in the order they appear */
  loads: string[];
}

/** Marks the comment line of a table that holds the study's choices. */
export const CHOICES_MARK = '# choices: ';

/**
 * Reads a table of runs: columns specimen, mount, value and optionally run, day, rig or device, load, valid, excluded, reason, at_least,
 * r_k_per_w, r_valid, confidence, school. Lines that begin with # are comments; one of them may carry the study's choices.
 * Reads one row after the other, cell by cell, each with its own refusal.
 * @param outcome r_k_per_w takes that column instead of value, and its own validity
 * @param given what is asked for by hand goes before what the table says
 * @throws LogError naming row and column where a cell cannot be read
 * @example readRunTable('runs.csv', 'specimen,mount,value\nLoam White,1,41.3\n', 'rise', {}).rows[0].value // 41.3
 */
export function readRunTable(
  file: string,
  text: string,
  outcome: 'rise' | 'r_k_per_w',
  given: { block?: BlockBy | null; load?: string } = {},
): RunTable {
  const { body, comments, first_row } = withoutComments(text);
  const { data, meta } = Papa.parse<Record<string, string>>(body, {
    header: true,
    skipEmptyLines: 'greedy',
    transformHeader: (h) => h.trim().toLowerCase(),
    transform: (v) => unguarded(v.trim()),
  });
  const fields = meta.fields ?? [];
  const choices = choicesOf(file, comments, outcome);
  const block = given.block ?? choices.block ?? null;
  const blockedBy = block === null ? [] : block.split('-');
  const needed = [...REQUIRED, ...(outcome === 'r_k_per_w' ? ['r_k_per_w'] : []), ...blockedBy];
  for (const name of needed) {
    const standsIn = name === 'rig' && fields.includes('device');
    if (!fields.includes(name) && !standsIn)
      throw new LogError(file, `the column "${name}" is missing; the header needs ${needed.join(', ')}.`, { row: first_row, column: name });
  }
  if (data.length === 0)
    throw new LogError(file, 'there is a header but no row below it; one row per run is needed.', { row: first_row + 1 });
  if (data.length > MAX_ROWS) throw new LogError(file, `the table has ${data.length} rows; up to ${MAX_ROWS} are read.`);
  const decimal = decimalOf(meta.delimiter, data);
  const loads = [...new Set(data.flatMap((r) => r.load?.trim() || []))];
  const load = given.load ?? choices.load ?? loads[0] ?? null;
  if (given.load !== undefined && !loads.includes(given.load))
    throw new LogError(
      file,
      `no row is of the load "${given.load}"; ${loads.length === 0 ? 'the table names no load' : `there are ${loads.join(', ')}`}.`,
      { column: 'load' },
    );
  const powers: number[] = [];
  const rows = data.flatMap((record, i): AnalysisRow[] => {
    const row = first_row + 1 + i;
    const ofLoad = record.load?.trim() || loads[0] || null;
    if (load !== null && ofLoad !== load) return [];
    const specimen = (record.specimen ?? '').trim();
    const mount = (record.mount ?? '').trim();
    if (!specimen || !mount)
      throw new LogError(file, 'specimen and mount must not be empty.', { row, column: specimen ? 'mount' : 'specimen' });
    const flag = (name: string, otherwise: boolean) => readFlag(file, row, name, record[name], otherwise);
    const cell = (column: string, wanted: boolean) => readValue(file, row, column, record[column], wanted, decimal);
    const bound = outcome === 'rise' ? cell('at_least', false) : null;
    const valid = (outcome === 'rise' ? flag('valid', true) : flag('r_valid', true)) && bound === null;
    const value = bound ?? cell(outcome === 'rise' ? 'value' : 'r_k_per_w', valid);
    if (outcome === 'r_k_per_w' && valid) {
      const rise = parseNumber(record.value ?? '', decimal);
      if (Number.isFinite(rise) && value !== null && value > 0) powers.push(rise / value);
    }
    const base = {
      ...{ specimen, mount, run: record.run?.trim() || undefined, valid, censored: bound !== null },
      ...{ excluded: flag('excluded', false), reason: record.reason?.trim() || undefined },
      ...{ day: record.day?.trim() || undefined, rig: record.rig?.trim() || record.device?.trim() || undefined },
    };
    const unnamed = blockedBy.find((name) => !base[name as 'day' | 'rig']);
    if (unnamed && valid && !base.excluded)
      throw new LogError(file, `the ${unnamed} is empty; to compare in blocks every run that counts needs it.`, { row, column: unnamed });
    return [{ ...base, value: value ?? Number.NaN }];
  });
  const power = median(powers);
  const confidence = data.map((r) => parseNumber(r.confidence ?? '', decimal)).find((v) => v > 0 && v < 1);
  const school = data.map((r) => r.school?.trim()).find((s) => s && SCHOOLS.includes(s)) as AnalysisOptions['scatter'] | undefined;
  return {
    ...{ rows, loads, default_margin: outcome === 'rise' || !(power > 0) ? 1 : 1 / power },
    choices: { ...(confidence === undefined ? {} : { confidence }), ...(school ? { scatter: school } : {}), ...choices },
  };
}

const SCHOOLS = ['pooled', 'separate', 'strict', 'measured', 'auto'];

/** The table without its comment lines, which stand above the header. */
function withoutComments(text: string): { body: string; comments: string[]; first_row: number } {
  const comments: string[] = [];
  let at = 0;
  while (text[at] === '#') {
    const end = text.indexOf('\n', at);
    comments.push(text.slice(at, end < 0 ? text.length : end).trim());
    at = end < 0 ? text.length : end + 1;
  }
  return { body: text.slice(at), comments, first_row: comments.length + 1 };
}

/** The choices of the comment line that carries them; those of a rise do not hold for a resistance. */
function choicesOf(file: string, comments: string[], outcome: 'rise' | 'r_k_per_w'): TableChoices {
  const row = comments.findIndex((c) => c.startsWith(CHOICES_MARK));
  if (row < 0) return {};
  const wrong = () => new LogError(file, 'the line of choices cannot be read; take it as it was exported, or delete it.', { row: row + 1 });
  const text = comments[row].slice(CHOICES_MARK.length);
  if (text.length > MOST_CHOICES) throw wrong();
  let told: unknown;
  try {
    told = JSON.parse(text);
  } catch {
    throw wrong();
  }
  const byOutcome = (told as Record<string, unknown> | null)?.[outcome];
  if (byOutcome === undefined) return {};
  if (!isChoices(byOutcome)) throw wrong();
  return byOutcome;
}

/** True where what a table carries has the form of choices. */
function isChoices(value: unknown): value is TableChoices {
  if (typeof value !== 'object' || value === null || Array.isArray(value)) return false;
  const v = value as Record<string, unknown>;
  const between = (x: unknown, low: number, high: number) => typeof x === 'number' && x > low && x < high;
  const optional = (key: string, is: (x: unknown) => boolean) => v[key] === undefined || v[key] === null || is(v[key]);
  return (
    optional('reference', (x) => typeof x === 'string') &&
    optional('margin', (x) => between(x, 0, MOST_VALUE)) &&
    optional('confidence', (x) => between(x, 0.5, 1)) &&
    optional('scatter', (x) => SCHOOLS.includes(x as string)) &&
    optional('family', (x) => x === 'all' || x === 'reference') &&
    optional('block', (x) => x === 'day' || x === 'rig' || x === 'rig-day') &&
    optional('default_mount_sd', (x) => between(x, -1e-12, MOST_VALUE)) &&
    optional('unplanned_look', (x) => between(x, 0, MOST_VALUE)) &&
    optional('one_kind', (x) => typeof x === 'boolean') &&
    optional('load', (x) => typeof x === 'string') &&
    optional('fixed_states', (x) => Array.isArray(x) && x.every((s) => typeof s === 'string')) &&
    optional(
      'borrowed',
      (x) =>
        typeof x === 'object' &&
        x !== null &&
        Object.values(x).every((b) => between(b?.sd, 0, MOST_VALUE) && between(b?.df, 0, MOST_VALUE)),
    )
  );
}

/** Decimal commas stand between semicolons or tabs; a table with points keeps them. */
function decimalOf(delimiter: string, data: Record<string, string>[]): Decimal {
  if (delimiter === ',') {
    // quoted cells may hold decimal commas even so
    return data.slice(0, 200).some((r) => /^[-−+]?\d+,\d+$/.test((r.value ?? '').trim())) ? ',' : '.';
  }
  const cells = data.slice(0, 200).map((r) => (r.value ?? '').trim());
  return cells.filter((c) => /^[-−+]?\d+,\d+$/.test(c)).length > cells.filter((c) => /^[-−+]?\d+\.\d+$/.test(c)).length ? ',' : '.';
}

function readValue(file: string, row: number, column: string, cell: string | undefined, needed: boolean, decimal: Decimal): number | null {
  const text = (cell ?? '').trim();
  const value = parseNumber(text, decimal);
  if (Number.isFinite(value)) {
    if (Math.abs(value) > MOST_VALUE)
      throw new LogError(file, `${text} is not a plausible value; up to ±${MOST_VALUE} is read.`, { row, column });
    return value;
  }
  if (!needed) return null;
  throw new LogError(
    file,
    `"${text}" is not a number; write it like the others of this table, such as ${decimal === ',' ? '41,25' : '41.25'}.`,
    { row, column },
  );
}

function readFlag(file: string, row: number, column: string, cell: string | undefined, otherwise: boolean): boolean {
  const text = (cell ?? '').trim().toLowerCase();
  if (text === '') return otherwise;
  if (['true', '1', 'yes'].includes(text)) return true;
  if (['false', '0', 'no'].includes(text)) return false;
  throw new LogError(file, `"${text}" should be true or false.`, { row, column });
}
