import Papa from 'papaparse';

/** What a cell of a spreadsheet holds. */
export type SheetCell = string | number | boolean | Date | null;

/** A sheet of a spreadsheet. */
export interface SheetCells {
  name: string;
  rows: SheetCell[][];
}

/** Sheets as comma-separated values, as a log or a table of readings is written; those without a cell are left out. */
export const sheetTexts = (sheets: SheetCells[]): { name: string; text: string }[] =>
  sheets.flatMap(({ name, rows }) => {
    const kept = withoutEmptyEnd(rows);
    return kept.length === 0
      ? []
      : [
          {
            name,
            text: Papa.unparse(
              kept.map((row) => row.map(written)),
              { newline: '\n' },
            ),
          },
        ];
  });

function withoutEmptyEnd(rows: SheetCell[][]): SheetCell[][] {
  let end = rows.length;
  while (end > 0 && rows[end - 1].every((c) => c === null || c === '')) end--;
  return rows.slice(0, end);
}

/** A cell as text: numbers with all their digits, moments as ISO 8601 without a zone, which a spreadsheet does not know. */
function written(cell: SheetCell): string {
  if (cell === null) return '';
  if (!(cell instanceof Date)) return String(cell);
  if (Number.isNaN(cell.getTime())) return '';
  // a time alone counts from the first day of spreadsheets
  if (cell.getUTCFullYear() < 1901) return elapsed((cell.getTime() - FIRST_DAY_MS) / 1000);
  const [day, time] = cell.toISOString().replace('Z', '').split('T');
  return time === '00:00:00.000' ? day : `${day} ${time.replace('.000', '')}`;
}

const FIRST_DAY_MS = Date.UTC(1899, 11, 30);

const elapsed = (s: number): string => {
  const [whole, two] = [Math.floor(s), (n: number) => String(n).padStart(2, '0')];
  const part = Math.round(1000 * (s - whole));
  return `${Math.floor(whole / 3600)}:${two(Math.floor(whole / 60) % 60)}:${two(whole % 60)}${part > 0 ? `.${String(part).padStart(3, '0')}` : ''}`;
};
