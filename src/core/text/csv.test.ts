import fc from 'fast-check';
import Papa from 'papaparse';
import { describe, expect, it } from 'vitest';
import { csvText, jsonComment, unguarded } from './csv';

describe('comma-separated values', () => {
  it('come back as they were through another reader, whatever the texts', () => {
    fc.assert(
      fc.property(fc.array(fc.array(fc.string(), { minLength: 2, maxLength: 2 }), { minLength: 1 }), (rows) => {
        const { data } = Papa.parse<string[]>(csvText(rows), { delimiter: ',', newline: '\n' });
        // a text that begins with an apostrophe before such a sign would lose it; none is written so
        const plain = rows.filter((r) => r.every((c) => !/^'[=+@\t\r-]/.test(c)));
        expect(
          data
            .slice(0, -1)
            .map((r) => r.map(unguarded))
            .filter((_, i) => plain.includes(rows[i])),
        ).toEqual(plain);
      }),
    );
  });
  it('are no formulas, and numbers stay numbers', () => {
    expect(csvText([['=1+1', '-x', '@a', '-1.5', -1.5, null, true]])).toBe("'=1+1,'-x,'@a,-1.5,-1.5,,true\n");
    expect(csvText([['-1+1', '-2,5', '-', '- 3', '-1e3']])).toBe("'-1+1,\"-2,5\",'-,'- 3,'-1e3\n");
    // nor where another spreadsheet parts the cells otherwise
    expect(csvText([['a;=1+1', 'b\t=1']])).toBe('"a;=1+1","b\t=1"\n');
  });
  it('carry what is said in JSON above them, in which no text opens a further cell', () => {
    const said = { reference: 'a,=1+1;=2\t=3', list: ['x,y', 2], none: null };
    const text = jsonComment(said);
    expect(JSON.parse(text)).toEqual(said);
    for (const cells of [text.split(','), text.split(';'), text.split('\t')])
      for (const cell of cells) expect(cell.trim()).not.toMatch(/^[=+@-]/);
  });
});
