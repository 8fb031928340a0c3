import { readFileSync, writeFileSync } from 'node:fs';

/** Puts a table between its two marks in a page of the documentation, in place of the one before. */
export function writeTable(file: string, mark: string, table: string): void {
  const page = readFileSync(file, 'utf8');
  const [before, rest] = page.split(`<!-- ${mark} -->`);
  const after = rest?.split(`<!-- end of ${mark} -->`)[1];
  if (after === undefined) throw new Error(`${file} has no place for the table "${mark}".`);
  writeFileSync(file, `${before}<!-- ${mark} -->\n\n${table}\n\n<!-- end of ${mark} -->${after}`);
}
