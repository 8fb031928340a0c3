import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { samplesHead, samplesResource, samplesText } from './samples';

const channel = (name: string, unit: string | null = 'degC', file = 'a.csv') => ({ name, file, role: 'sensor', unit });
const of = (...pairs: [number, number][]) => ({ t: Float64Array.from(pairs, (p) => p[0]), values: Float32Array.from(pairs, (p) => p[1]) });

describe('the samples of a run', () => {
  it('have a column a channel, each of its own name, with its unit', () => {
    const channels = [channel('Die'), channel('Die', 'degC', 'b.csv'), channel('time', 'W'), channel('Die', null, 'b.csv')];
    expect(samplesHead(channels)).toBe('elapsed_s,time,Die,Die (b.csv),time (a.csv),Die (2)\n');
    const { schema } = samplesResource(7, channels) as { schema: { fields: { unit?: string }[] } };
    expect(schema.fields.map((f) => f.unit)).toEqual(['s', undefined, 'Cel', 'Cel', 'W', undefined]);
  });

  it('have a line a moment; what was not read then is empty', () => {
    const text = samplesText([of([0, 45.3], [1, Number.NaN], [2, 45.5]), of([0.5, 60], [2, 61.25])], 0, 10, 1e12);
    expect(text.split('\n')).toEqual([
      '0,2001-09-09T01:46:40.000Z,45.3,',
      '0.5,2001-09-09T01:46:40.500Z,,60',
      '1,2001-09-09T01:46:41.000Z,,',
      '2,2001-09-09T01:46:42.000Z,45.5,61.25',
      '',
    ]);
    expect(samplesText([of([0, 1])], 0, 10, null)).toBe('0,,1\n');
  });

  it('are the same in one piece or in several, and keep every 32-bit float', () => {
    const floats = fc.array(fc.float({ noNaN: true, noDefaultInfinity: true }), { minLength: 1, maxLength: 40 });
    fc.assert(
      fc.property(floats, fc.double({ min: 0, max: 40, noNaN: true }), (values, cut) => {
        const readings = [of(...values.map((v, i): [number, number] => [i, v]))];
        const whole = samplesText(readings, -1, 100, null);
        expect(samplesText(readings, -1, cut, null) + samplesText(readings, cut, 100, null)).toBe(whole);
        const read = whole
          .trim()
          .split('\n')
          .map((line) => Number(line.split(',')[2]));
        expect(read.map(Math.fround)).toEqual(values.map((v) => (v === 0 ? 0 : v)));
      }),
    );
  });
});
