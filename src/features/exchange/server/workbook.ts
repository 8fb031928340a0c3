import writeXlsxFile, { type Cell, type Row } from 'write-excel-file/node';
import { printable } from '#core/text/printable';
import type { PackageField, PackageRow, PackageTable } from '#features/exchange/model/packageTable';
import { TABLES } from '#features/exchange/model/tables';

/** Tables that a person opens a study for; they come first. */
const FIRST = ['pairs', 'means', 'runs'];
/** Units that are said otherwise than by their UCUM code; '' says nothing. */
const UNITS: Record<string, string> = { Cel: '°C', '{rpm}': 'rpm', '1': '' };
const HEAD = { fontWeight: 'bold', wrap: true } as const;

/**
 * A study as a workbook for spreadsheets (Office Open XML): a sheet for each table that has rows, its head with units, numbers as numbers and
 * times as times, in UTC.
 */
export function workbook(tables: Record<string, PackageRow[]>): Promise<Buffer> {
  const kept = TABLES.filter((t) => t.name === 'specimens' || (tables[t.name] ?? []).length > 0);
  const ordered = [...FIRST.flatMap((name) => kept.filter((t) => t.name === name)), ...kept.filter((t) => !FIRST.includes(t.name))];
  return writeXlsxFile(
    ordered.map((table) => ({
      sheet: table.name,
      data: [
        table.fields.map((f): Cell => ({ value: headOf(f), ...HEAD })),
        ...(tables[table.name] ?? []).map((row) => cellsOf(table, row)),
      ],
      columns: table.fields.map((f) => ({ width: f.type === 'string' ? 22 : f.type === 'datetime' ? 20 : 14 })),
      stickyRowsCount: 1,
      dateFormat: 'yyyy-mm-dd hh:mm:ss',
    })),
  ).toBuffer();
}

/** The head of a column: what it is, with its unit. */
function headOf({ title, unit = '' }: PackageField): string {
  const words = UNITS[unit] ?? unit;
  return words === '' ? title : `${title} / ${words}`;
}

const cellsOf = ({ fields }: PackageTable, row: PackageRow): Row =>
  fields.map(({ name, type }): Cell => {
    const value = row[name] ?? null;
    if (value === null || value === '') return null;
    if (type === 'datetime') return new Date(value as string);
    return typeof value === 'string' ? { type: String, value: printable(value) } : value;
  });
