import Papa from 'papaparse';
import { type Cell, csvText, unguarded } from '#core/text/csv';
import type { FieldSpec } from '#rules/fields';
import { check, RuleError } from '#rules/validation';
import { SECTIONS, type SectionKey, type SheetValues, sectionFields } from './sections';

const MOST_ROWS = 2000;

/** Column of a field: its key, with the unit in brackets where it has one. */
const columnOf = (f: FieldSpec) => (f.unit ? `${f.key} (${f.unit})` : f.key);

/** References are numbers of this store and mean nothing in another, so they stay out of files. */
const fileFields = (section: SectionKey) => sectionFields(section).filter((f) => f.kind !== 'ref' && f.kind !== 'refs');

/** Sheets of a section as CSV, one row a sheet, that the import reads back. */
export function writeSheets(section: SectionKey, rows: { name: string; sheet: SheetValues }[]): string {
  const fields = fileFields(section);
  const cell = (v: SheetValues[string]): Cell => (v === true ? 'yes' : v === false ? 'no' : Array.isArray(v) ? v.join(' ') : (v ?? ''));
  return csvText([['name', ...fields.map(columnOf)], ...rows.map((r) => [r.name, ...fields.map((f) => cell(r.sheet[f.key]))])]);
}

interface ReadSheets {
  rows: { name: string; sheet: SheetValues }[];
  /** sentences for what cannot be taken, with row and column */
  problems: string[];
}

/**
 * Reads sheets of a section from CSV; columns go by their key or label, units in brackets are left aside but must be the stated ones.
 * Nothing is taken where a problem is told.
 */
export function readSheets(section: SectionKey, text: string): ReadSheets {
  const { data, meta } = Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/, ''), {
    header: true,
    skipEmptyLines: 'greedy',
    transformHeader: (h) => h.trim(),
  });
  const problems: string[] = [];
  const fields = fileFields(section);
  const headers = meta.fields ?? [];
  const columns = new Map<FieldSpec, string>();
  const nameColumn = headers.find((h) => h.toLowerCase() === 'name');
  if (!nameColumn) problems.push('Row 1: the column "name" is missing.');
  for (const header of headers) {
    if (header === nameColumn || header === '') continue;
    const [, plain, unit] = /^(.*?)\s*(?:\((.*)\))?$/.exec(header) ?? [];
    const found = fields.find((f) => f.key === plain.toLowerCase() || f.label.toLowerCase() === plain.toLowerCase());
    if (!found) problems.push(`Row 1: the column "${header}" is not one of ${['name', ...fields.map((f) => f.key)].join(', ')}.`);
    else if (unit !== undefined && unit !== found.unit)
      problems.push(`Row 1: the column "${header}" should be in ${found.unit ?? 'no unit'}.`);
    else columns.set(found, header);
  }
  if (data.length === 0) problems.push('There is no row below the header.');
  if (data.length > MOST_ROWS) problems.push(`The file has ${data.length} rows; up to ${MOST_ROWS} are read at once.`);
  if (problems.length > 0) return { rows: [], problems };
  const seen = new Set<string>();
  const rows = data.map((record, i) => {
    const name = unguarded((record[nameColumn ?? ''] ?? '').trim());
    const at = `Row ${i + 2}`;
    if (name.length < 1 || name.length > 80) problems.push(`${at}: the name needs 1 to 80 characters.`);
    if (seen.has(name)) problems.push(`${at}: ${name} stands in the file twice.`);
    seen.add(name);
    const sheet: SheetValues = {};
    for (const [f, header] of columns) {
      const read = readCell(f, (record[header] ?? '').trim());
      if (read.problem) problems.push(`${at}, column "${header}": ${read.problem}`);
      else if (read.value !== null) sheet[f.key] = read.value;
    }
    try {
      check(SECTIONS[section].sheet as new () => object, sheet);
    } catch (error) {
      if (!(error instanceof RuleError)) throw error;
      problems.push(...error.sentences.map((s) => `${at}: ${s}`));
    }
    return { name, sheet };
  });
  return { rows: problems.length > 0 ? [] : rows, problems: problems.slice(0, 20) };
}

function readCell(f: FieldSpec, text: string): { value: string | number | boolean | null; problem?: string } {
  if (text === '') return { value: null };
  switch (f.kind) {
    case 'number':
    case 'whole': {
      const value = Number(text.replace(',', '.'));
      return Number.isFinite(value) ? { value } : { value: null, problem: `"${text}" is not a number.` };
    }
    case 'yesno':
      if (/^(yes|true|1)$/i.test(text)) return { value: true };
      if (/^(no|false|0)$/i.test(text)) return { value: false };
      return { value: null, problem: `"${text}" should be yes or no.` };
    case 'choice': {
      const key = Object.entries(f.choices ?? {}).find(
        ([k, label]) => k === text.toLowerCase() || label.toLowerCase() === text.toLowerCase(),
      )?.[0];
      return key ? { value: key } : { value: null, problem: `"${text}" is not one of ${Object.keys(f.choices ?? {}).join(', ')}.` };
    }
    default:
      return { value: unguarded(text) };
  }
}
