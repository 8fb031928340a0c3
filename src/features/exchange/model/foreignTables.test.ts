import { describe, expect, it } from 'vitest';
import { foreignFiles } from './foreignTables';

const rows = (make: (i: number) => string) => Array.from({ length: 30 }, (_, i) => make(i)).join('\n');

describe('tables of another program', () => {
  it('of samples become a log a run, named by what they belong to, with the units of their descriptor', () => {
    const text = `specimen,mount,run,elapsed_s,die,power\n${rows((i) => `Amber nine,1,1,${i},4${i},95`)}\n${rows((i) => `Amber nine,1,2,${i},4${i},95`)}\n${rows((i) => `Birch/two,2,1,${i},5${i},95`)}`;
    const fields = [{ name: 'die', unit: 'Cel' }, { name: 'power', unit: 'W' }, { name: 'elapsed_s' }];
    const files = foreignFiles([{ name: 'samples', path: 'data/samples.csv', text, fields }]);
    expect(files.map((f) => f.name)).toEqual(['Amber nine_mount1_run1.csv', 'Amber nine_mount1_run2.csv', 'Birch-two_mount2_run1.csv']);
    expect(files[1].text.split('\n').slice(0, 2)).toEqual(['elapsed_s,die (°C),power (W)', '0,40,95']);
    expect(files[1].text.split('\n')).toHaveLength(31);
  });

  it('of samples without a word of what they belong to are logs by their own names', () => {
    const text = `time\tdie (C)\n${rows((i) => `${i}\t4${i}`)}`;
    expect(foreignFiles([{ name: 'x', path: 'birch_m2.tsv', text, fields: [] }])).toMatchObject([{ name: 'birch_m2.csv' }]);
  });

  it('of values stay a table; where nothing is said of what was measured there is none', () => {
    const text = 'specimen;mount;value\nAmber;1;41,5\nBirch;1;44,0\n';
    expect(foreignFiles([{ name: 'v', path: 'v.csv', text, fields: [] }])).toEqual([
      { name: 'v.csv', text: 'specimen,mount,value\nAmber,1,"41,5"\nBirch,1,"44,0"' },
    ]);
    expect(foreignFiles([{ name: 'o', path: 'o.csv', text: 'country,people\nA,1\n', fields: [] }])).toEqual([]);
  });
});
