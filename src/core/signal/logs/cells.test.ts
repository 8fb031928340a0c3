import fc from 'fast-check';
import Papa from 'papaparse';
import { describe, expect, it } from 'vitest';
import { RowWalker, scanNumber, scanned, splitRow } from './cells';
import { parseNumber } from './numbers';
import { wordsOf } from './roles';

const encode = (text: string) => new TextEncoder().encode(text);
function split(text: string, delimiter: string): string[][] {
  const bytes = encode(text);
  const walker = new RowWalker(bytes, 10, delimiter.charCodeAt(0), true);
  const rows: string[][] = [];
  for (let row = walker.rowAt(0); row !== null; row = walker.rowAt(row.next))
    rows.push(splitRow(bytes, row, delimiter.charCodeAt(0), new TextDecoder()));
  return rows;
}

describe('rows and cells', () => {
  it('are those that a CSV writer wrote, with delimiters, quotes and line ends inside quotes', () => {
    const cell = fc.stringMatching(/^[a-c0-9.,;" \n]{0,8}$/).filter((c) => c === c.trim());
    fc.assert(
      fc.property(
        fc.array(fc.array(cell, { minLength: 2, maxLength: 5 }), { minLength: 1, maxLength: 8 }),
        fc.constantFrom(',', ';'),
        (rows, delimiter) => {
          const text = `${Papa.unparse(rows, { delimiter, newline: '\n' })}\n`;
          expect(split(text, delimiter)).toEqual(rows);
        },
      ),
    );
  });
  it('of blanks are parted by runs of them', () => {
    expect(split('  a   b c\n', ' ')).toEqual([['a', 'b', 'c']]);
  });
  it('keep a quote inside a cell, and one that is never closed, as they stand', () => {
    expect(split('5" plate,41\n', ',')).toEqual([['5" plate', '41']]);
    expect(split('"open,41\nb,42\n', ',')).toEqual([
      ['"open', '41'],
      ['b', '42'],
    ]);
  });
});

describe('numbers read from bytes', () => {
  it('are the nearest doubles, as those of the language are', () => {
    const digits = fc.tuple(fc.constantFrom('', '-', '+'), fc.stringMatching(/^\d{1,8}$/), fc.stringMatching(/^\d{0,7}$/));
    fc.assert(
      fc.property(digits, fc.constantFrom('.', ','), ([sign, whole, part], decimal) => {
        const text = `${sign}${whole}${part === '' ? '' : decimal + part}`;
        const value = scanNumber(encode(`${text};`), 0, text.length + 1, decimal.charCodeAt(0));
        expect(value).toBe(Number(text.replace(',', '.')));
        expect(scanned.end).toBe(text.length);
        expect(parseNumber(text, decimal as '.' | ',')).toBe(value);
      }),
    );
  });
  it.each(['', '-', '.', 'x1', '1234567890123456', '0.12345678901234567'])('%j is left to the slow way', (text) => {
    expect(scanNumber(encode(text), 0, text.length, 46)).toBeNaN();
  });
});

describe('words of a name', () => {
  it.each([
    ['die_1', 'die 1'],
    ['DieTemp', 'Die Temp'],
    ['room-air', 'room air'],
    ['Ambient_', 'Ambient'],
    ['T1', 'T 1'],
  ])('%s', (name, words) => {
    expect(wordsOf(name)).toBe(words);
  });
});
