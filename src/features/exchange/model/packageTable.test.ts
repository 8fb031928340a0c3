import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type PackageRow, type PackageTable, readTable, tableSchema, tableText } from './packageTable';
import { TABLES } from './tables';

const TABLE: PackageTable = {
  name: 'things',
  title: 'Things',
  primaryKey: ['id'],
  fields: [
    { name: 'id', type: 'integer', title: 'Number', constraints: { required: true, minimum: 1 } },
    { name: 'name', type: 'string', title: 'Name' },
    { name: 'rise_k', type: 'number', title: 'Rise', unit: 'K' },
    { name: 'valid', type: 'boolean', title: 'Counts', constraints: { required: true } },
    { name: 'at', type: 'datetime', title: 'When' },
    { name: 'day', type: 'date', title: 'Day' },
    { name: 'end', type: 'string', title: 'End', constraints: { enum: ['pass', 'crash'] } },
  ],
};

describe('a table of a package', () => {
  it('is read as it was written, whatever the texts and numbers are', () => {
    const moment = fc.integer({ min: 0, max: 4e12 }).map((ms) => new Date(ms).toISOString());
    const row = fc.record({
      name: fc.option(fc.oneof(fc.string({ minLength: 1 }), fc.constantFrom('=1+1', '-x', "'=a", 'a,b\n"c"', ' ', '<b>'))),
      rise_k: fc.option(fc.double({ noNaN: true, noDefaultInfinity: true }).map((v) => v + 0)),
      valid: fc.boolean(),
      at: fc.option(moment),
      day: fc.option(moment.map((m) => m.slice(0, 10))),
      end: fc.option(fc.constantFrom('pass', 'crash')),
    });
    fc.assert(
      fc.property(fc.array(row, { maxLength: 5 }), (given) => {
        const rows = given.map((r, i): PackageRow => ({ id: i + 1, ...r }));
        const read = readTable(TABLE, tableText(TABLE, rows));
        expect(read).toEqual({ rows, problems: [] });
      }),
    );
  });

  const head = 'id,name,rise_k,valid,at,day,end\n';
  it.each([
    ['', 'the columns id, name, rise_k, valid, at, day, end are missing.'],
    ['id,name\n1,a\n', 'the columns rise_k, valid, at, day, end are missing.'],
    ['name,id,rise_k,valid,at,day,end\n', 'the columns should be id, name'],
    [`${head}1,a,1\n`, 'line 2 has 3 cells instead of 7.'],
    [`${head}1,a,warm,true,,,\n`, 'line 2, rise_k: "warm" is no number.'],
    [`${head}1,a,Infinity,true,,,\n`, 'line 2, rise_k: "Infinity" is no number.'],
    [`${head}1,a,0x10,true,,,\n`, 'line 2, rise_k: "0x10" is no number.'],
    [`${head}1.5,a,1,true,,,\n`, 'line 2, id: "1.5" is no whole number of 1 or more.'],
    [`${head}0,a,1,true,,,\n`, 'line 2, id: "0" is no whole number of 1 or more.'],
    [`${head},a,1,true,,,\n`, 'line 2, id: "" is no whole number'],
    [`${head}1,a,1,yes,,,\n`, 'line 2, valid: "yes" is neither true nor false.'],
    [`${head}1,a,1,true,2026-06-02 14:30,,\n`, 'line 2, at: "2026-06-02 14:30" is no moment in UTC.'],
    [`${head}1,a,1,true,2026-13-02T14:30:00Z,,\n`, 'is no moment in UTC.'],
    [`${head}1,a,1,true,,2.6.2026,\n`, 'line 2, day: "2.6.2026" is no day.'],
    [`${head}1,a,1,true,,,stopped\n`, 'line 2, end: "stopped" is none of pass, crash.'],
    [`${head}1,a,1,true,,,\n1,b,1,true,,,\n`, 'line 3 has the key of an earlier one (id 1).'],
  ])('is told where it is wrong: %j', (text, words) => {
    const { rows, problems } = readTable(TABLE, text);
    expect(problems).toEqual([expect.stringContaining(words)]);
    expect(rows.length).toBeLessThanOrEqual(1);
  });

  it('tells at most twenty faults and how many more there are', () => {
    const { problems } = readTable(TABLE, head + '1,a,warm,true,,,\n'.repeat(30));
    expect(problems).toHaveLength(21);
    expect(problems[20]).toBe('and 10 more.');
  });
});

describe('the tables of a study', () => {
  it('refer to tables before them, by their keys', () => {
    for (const [i, { foreignKeys = [], fields }] of TABLES.entries())
      for (const { fields: own, reference } of foreignKeys) {
        expect(fields.map((f) => f.name)).toContain(own);
        const at = TABLES.findIndex((t) => t.name === reference.resource);
        expect(at).toBeLessThan(i);
        expect(TABLES[at].primaryKey).toEqual([reference.fields]);
      }
  });

  it('have a title, a type and a key for everything, each name once', () => {
    expect(new Set(TABLES.map((t) => t.name)).size).toBe(TABLES.length);
    for (const table of TABLES) {
      const schema = tableSchema(table);
      expect(new Set(schema.fields.map((f) => f.name)).size).toBe(schema.fields.length);
      for (const key of table.primaryKey) {
        const field = table.fields.find((f) => f.name === key);
        expect(field?.constraints?.required, `${table.name}.${key}`).toBe(true);
      }
      for (const { title, name, unit } of schema.fields) {
        expect(title.length).toBeGreaterThan(1);
        if (/_(k|c|w|v|s|mhz|rpm|db|pct)$/.test(name)) expect(unit, `${table.name}.${name}`).toBeTruthy();
      }
    }
  });
});
