import Papa from 'papaparse';
import { type Cell, csvText, unguarded } from '#core/text/csv';

/** Types of the fields of a table (Table Schema, v1). */
type FieldType = 'integer' | 'number' | 'string' | 'boolean' | 'datetime' | 'date';

/** A column of a table of a package. */
export interface PackageField {
  name: string;
  type: FieldType;
  /** what it is, in words */
  title: string;
  /** UCUM code, where it is a quantity */
  unit?: string;
  constraints?: { required?: true; minimum?: number; enum?: string[] };
}

/** A table of a package: one row a thing. */
export interface PackageTable {
  name: string;
  title: string;
  fields: PackageField[];
  primaryKey: string[];
  foreignKeys?: { fields: string; reference: { resource: string; fields: string } }[];
}

/** A row of a table by its columns; what is not available is null. */
export type PackageRow = Record<string, string | number | boolean | null>;

/** A table's rows as comma-separated values: what is not available is empty. */
export const tableText = ({ fields }: PackageTable, rows: PackageRow[]): string =>
  csvText([fields.map((f) => f.name), ...rows.map((row) => fields.map((f): Cell => row[f.name] ?? null))]);

/** What a table's schema says to other programs (Table Schema, v1). */
export const tableSchema = ({ fields, primaryKey, foreignKeys }: PackageTable) => ({
  fields: fields.map(({ name, type, title, unit, constraints }) => ({
    ...{ name, type, title },
    // with parts of a second, which the usual format has not
    ...(type === 'datetime' ? { format: 'any' } : {}),
    ...(unit ? { unit } : {}),
    ...(constraints ? { constraints } : {}),
  })),
  primaryKey,
  ...(foreignKeys ? { foreignKeys } : {}),
  missingValues: [''],
});

/** A table as it was read, and what in it is not as its schema says. */
export interface ReadTable {
  rows: PackageRow[];
  problems: string[];
}

/** So many faults of one table are told. */
const MOST_PROBLEMS = 20;

/** Reads a table by its schema. Rows with a fault are left out; the fault is told with its line. */
export function readTable(table: PackageTable, text: string): ReadTable {
  const problems: string[] = [];
  const parsed = Papa.parse<string[]>(text, { delimiter: ',', newline: '\n', skipEmptyLines: false });
  const lines = parsed.data.filter((cells, i) => i < parsed.data.length - 1 || cells.length > 1 || cells[0] !== '');
  const [head = [], ...body] = lines;
  const names = table.fields.map((f) => f.name);
  if (head.join() !== names.join()) {
    const missing = names.filter((n) => !head.includes(n));
    return {
      rows: [],
      problems: [
        missing.length > 0
          ? `the columns ${missing.join(', ')} are missing.`
          : `the columns should be ${names.join(', ')}, and are ${head.join(', ')}.`,
      ],
    };
  }
  const rows: PackageRow[] = [];
  const keys = new Set<string>();
  for (const [i, cells] of body.entries()) {
    const line = i + 2;
    if (cells.length !== names.length) {
      problems.push(`line ${line} has ${cells.length} cells instead of ${names.length}.`);
      continue;
    }
    const row: PackageRow = {};
    const wrong = table.fields.flatMap((field, at) => {
      const value = readCell(field, cells[at]);
      if (value === undefined) return [`line ${line}, ${field.name}: "${cells[at].slice(0, 60)}" is ${wanted(field)}.`];
      row[field.name] = value;
      return [];
    });
    problems.push(...wrong);
    if (wrong.length > 0) continue;
    const key = JSON.stringify(table.primaryKey.map((k) => row[k]));
    if (keys.has(key))
      problems.push(`line ${line} has the key of an earlier one (${table.primaryKey.map((k) => `${k} ${row[k]}`).join(', ')}).`);
    else rows.push(row);
    keys.add(key);
  }
  const more = problems.length - MOST_PROBLEMS;
  return { rows, problems: more > 0 ? [...problems.slice(0, MOST_PROBLEMS), `and ${more} more.`] : problems };
}

const NUMBER = /^-?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i;
const MOMENT = /^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d+)?Z$/;
const DAY = /^\d{4}-\d\d-\d\d$/;

/** A cell by its field; undefined where it is not what the field holds. */
function readCell({ type, constraints = {} }: PackageField, cell: string): PackageRow[string] | undefined {
  if (cell === '') return constraints.required ? undefined : null;
  switch (type) {
    case 'integer':
    case 'number': {
      const value = Number(cell);
      const isOne = NUMBER.test(cell) && Number.isFinite(value) && (type === 'number' || Number.isSafeInteger(value));
      return isOne && value >= (constraints.minimum ?? Number.NEGATIVE_INFINITY) ? value : undefined;
    }
    case 'boolean':
      return cell === 'true' ? true : cell === 'false' ? false : undefined;
    case 'datetime':
      return MOMENT.test(cell) && !Number.isNaN(Date.parse(cell)) ? cell : undefined;
    case 'date':
      return DAY.test(cell) && !Number.isNaN(Date.parse(cell)) ? cell : undefined;
    case 'string': {
      const text = unguarded(cell);
      return constraints.enum && !constraints.enum.includes(text) ? undefined : text;
    }
  }
}

function wanted({ type, constraints = {} }: PackageField): string {
  if (constraints.enum) return `none of ${constraints.enum.join(', ')}`;
  const names = {
    integer: 'no whole number',
    number: 'no number',
    boolean: 'neither true nor false',
    string: 'no text',
    date: 'no day',
    datetime: 'no moment in UTC',
  };
  return constraints.minimum === undefined ? names[type] : `${names[type]} of ${constraints.minimum} or more`;
}
