import fc from 'fast-check';
import Papa from 'papaparse';
import { describe, expect, it } from 'vitest';
import { csvText, unguarded } from './csv';

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
  });
});
