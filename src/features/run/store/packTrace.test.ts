import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { BLOCK, CHUNK, packAxis, packChannel, unpackDoubles, unpackFloats } from './packTrace';

const about = { name: 'Die', file: 'a.csv', role: 'sensor', unit: 'degC', axis: 0 };

describe('a packed trace', () => {
  it('gives back its readings as 32-bit floats, missing ones as missing', () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.float({ noNaN: true, min: -1000, max: 1000 }), fc.constant(Number.NaN)), { maxLength: 300 }),
        (list) => {
          const values = Float64Array.from(list);
          const { readings, blocks } = packChannel(about, values);
          expect(Array.from(unpackFloats(Buffer.from(readings)))).toEqual(list);
          const ranges = unpackFloats(Buffer.from(blocks));
          expect(ranges).toHaveLength(2 * Math.ceil(list.length / BLOCK));
          // no reading lies outside its block's range, and each end of a range was read
          for (let b = 0; 2 * b < ranges.length; b++) {
            const inside = list.slice(b * BLOCK, (b + 1) * BLOCK).filter((v) => !Number.isNaN(v));
            if (inside.length === 0) expect(ranges[2 * b]).toBeNaN();
            else expect([ranges[2 * b], ranges[2 * b + 1]]).toEqual([Math.min(...inside), Math.max(...inside)]);
          }
          expect(Array.from(values)).toEqual(list);
        },
      ),
    );
  });
  it('gives back its times exactly, and where every block begins', () => {
    const t = Float64Array.from({ length: 200 }, (_, i) => i / 3);
    const { t: bytes, blocks } = packAxis(t);
    expect(Array.from(unpackDoubles(Buffer.from(bytes)))).toEqual(Array.from(t));
    expect(Array.from(unpackDoubles(Buffer.from(blocks)))).toEqual([t[0], t[64], t[128], t[192]]);
    expect(CHUNK % BLOCK).toBe(0);
  });
});
