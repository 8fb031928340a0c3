import { strFromU8, unzipSync } from 'fflate';
import { Parser } from 'saxen';
import type { SheetCell, SheetCells } from './sheetText';

const NAMESPACES = {
  'urn:oasis:names:tc:opendocument:xmlns:office:1.0': 'office',
  'urn:oasis:names:tc:opendocument:xmlns:table:1.0': 'table',
  'urn:oasis:names:tc:opendocument:xmlns:text:1.0': 'text',
};
/** Cells and rows say how often they come; the empty ones after the last are said to come a million times, and are left out. */
const MOST_REPEATED = 100_000;
const MOST_CELLS = 50_000_000;
/** Unpacked, of the part that holds the cells. */
const MOST_BYTES = 1_000_000_000;

/**
 * Sheets of an OpenDocument spreadsheet (ISO/IEC 26300), each with its cells.
 * @throws Error in a sentence where it is none
 */
export function readOds(bytes: Uint8Array): SheetCells[] {
  const content = contentOf(bytes);
  const sheets: SheetCells[] = [];
  let cells = 0;
  let row: SheetCell[] = [];
  let rowRepeats = 1;
  let cell: { value: SheetCell; text: string[]; repeats: number } | null = null;
  let paragraph = false;
  const parser = new Parser().ns(NAMESPACES);
  parser.on('openTag', (name, attributes, decode) => {
    const given = attributes() as Record<string, string>;
    const repeats = (key: string) => Math.max(1, Number(given[key] ?? 1) || 1);
    if (name === 'table:table') sheets.push({ name: decode(given['table:name'] ?? ''), rows: [] });
    else if (name === 'table:table-row') {
      row = [];
      rowRepeats = repeats('table:number-rows-repeated');
    } else if (name === 'table:table-cell' || name === 'table:covered-table-cell')
      cell = { value: typedValue(given, decode), text: [], repeats: repeats('table:number-columns-repeated') };
    else if (name === 'text:p' && cell) {
      paragraph = true;
      cell.text.push('');
    } else if (name === 'text:s' && cell && cell.text.length > 0)
      cell.text[cell.text.length - 1] += ' '.repeat(Math.min(100, repeats('text:c')));
  });
  parser.on('text', (text, decode) => {
    if (paragraph && cell) cell.text[cell.text.length - 1] += decode(text);
  });
  parser.on('closeTag', (name) => {
    if (name === 'text:p') paragraph = false;
    else if ((name === 'table:table-cell' || name === 'table:covered-table-cell') && cell) {
      const value = cell.value ?? (cell.text.length > 0 ? cell.text.join('\n') : null);
      // empty ones at the end of a row are not kept
      const count = value === null && cell.repeats > 1000 ? 0 : Math.min(cell.repeats, MOST_REPEATED);
      for (let i = 0; i < count; i++) row.push(value);
      cell = null;
    } else if (name === 'table:table-row') {
      while (row.length > 0 && row[row.length - 1] === null) row.pop();
      const count = row.length === 0 ? 1 : Math.min(rowRepeats, MOST_REPEATED);
      cells += count * row.length;
      if (cells > MOST_CELLS) throw new Error('it holds more than 50 million cells.');
      for (let i = 0; i < count; i++) sheets[sheets.length - 1]?.rows.push(row);
    }
  });
  parser.on('error', (error) => {
    throw new Error(`its content cannot be read (${error.message}).`);
  });
  parser.parse(content);
  return sheets;
}

/** What a cell holds by its type; null where its text says it. */
function typedValue(given: Record<string, string>, decode: (text: string) => string): SheetCell {
  switch (given['office:value-type']) {
    case 'float':
    case 'percentage':
    case 'currency':
      return Number(given['office:value']);
    case 'boolean':
      return given['office:boolean-value'] === 'true';
    case 'date':
      return decode(given['office:date-value'] ?? '').replace('T', ' ');
    case 'time': {
      const [, hours, minutes, seconds] = /^PT(\d+)H(\d+)M([\d.]+)S$/.exec(given['office:time-value'] ?? '') ?? [];
      return seconds === undefined ? null : `${hours}:${minutes}:${seconds}`;
    }
    default:
      return null;
  }
}

/** The part of the file that holds the cells, as text; unpacked here, as the pages' policy lets no library start workers of its own. */
function contentOf(bytes: Uint8Array): string {
  let content: Uint8Array | undefined;
  let isLarge = false;
  try {
    content = unzipSync(bytes, {
      filter({ name, originalSize }) {
        if (name !== 'content.xml') return false;
        isLarge = originalSize > MOST_BYTES;
        return !isLarge;
      },
    })['content.xml'];
  } catch {
    // it is no ZIP
  }
  if (isLarge) throw new Error('it is larger than 1 GB when it is unpacked.');
  if (!content) throw new Error('it is no OpenDocument spreadsheet.');
  return strFromU8(content);
}
