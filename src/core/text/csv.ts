export type Cell = string | number | boolean | null | undefined;

/** A spreadsheet must not take a text for a formula: such a text gets an apostrophe in front. */
const guard = (text: string): string => (/^[=+@\t\r]|^-[^\d]/.test(text) ? `'${text}` : text);

/** The text of a cell that may have been guarded. */
export const unguarded = (text: string): string => text.replace(/^'(?=[=+@\t\r-])/, '');

/**
 * A table as comma-separated values (RFC 4180, lines ended by a line feed), safe to open in a spreadsheet.
 * @param rows the head among them, where there is one
 */
export function csvText(rows: Cell[][]): string {
  const cell = (value: Cell) => {
    const text = typeof value === 'string' ? guard(value) : String(value ?? '');
    return /[",\r\n]|^\s|\s$/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
  };
  return rows.map((row) => `${row.map(cell).join(',')}\n`).join('');
}
