export type Cell = string | number | boolean | null | undefined;

/** A spreadsheet must not take a text for a formula: such a text gets an apostrophe in front, and so does one that has it already. */
const guard = (text: string): string => (/^'*[=+@\t\r]|^'+-|^-(?!\d*[.,]?\d+$)/.test(text) ? `'${text}` : text);

/** JSON as a comment line of a table: no text in it can be taken for a further cell, whatever parts the cells. */
export const jsonComment = (value: unknown): string =>
  JSON.stringify(value, (_, v) => (typeof v === 'string' ? v.replace(/[,;]/g, (c) => (c === ',' ? '\uE000' : '\uE001')) : v))
    .replaceAll('\uE000', '\\u002c')
    .replaceAll('\uE001', '\\u003b');

/** The text of a cell that may have been guarded. */
export const unguarded = (text: string): string => text.replace(/^'(?='*[=+@\t\r-])/, '');

/**
 * A table as comma-separated values (RFC 4180, lines ended by a line feed), safe to open in a spreadsheet.
 * @param rows the head among them, where there is one
 */
export function csvText(rows: Cell[][]): string {
  const cell = (value: Cell) => {
    const text = typeof value === 'string' ? guard(value) : String(value ?? '');
    // other spreadsheets part cells by semicolons or tabs
    return /[",;\t\r\n]|^\s|\s$/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
  };
  return rows.map((row) => `${row.map(cell).join(',')}\n`).join('');
}
