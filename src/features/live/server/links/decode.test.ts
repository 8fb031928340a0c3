import { describe, expect, it } from 'vitest';
import { type RegisterType, readQuery } from '#features/shelf/model/channelQuery';
import { figuresOf, figuresOfLine } from './discover';
import { figureOf, valueAt } from './jsonValue';
import { decodeRegisters } from './modbusLink';
import { figureIn } from './serialLink';

describe('registers', () => {
  const decode = (bytes: number[], text: string) => {
    const query = readQuery('modbus', `input 0 ${text}`);
    if (!query || 'problem' in query || query.kind !== 'modbus') throw new Error(text);
    return decodeRegisters(Buffer.from(bytes), query);
  };
  it.each<[string, number[], number]>([
    ['uint16', [0x01, 0x02], 258],
    ['int16', [0xff, 0xfe], -2],
    ['int16 x 0.1', [0x00, 0xeb], 23.5],
    ['uint32', [0x00, 0x01, 0x00, 0x00], 65_536],
    ['uint32 swapped', [0x00, 0x00, 0x00, 0x01], 65_536],
    ['int32', [0xff, 0xff, 0xff, 0xff], -1],
    // IEEE 754: 23.5 is 0x41bc0000
    ['float32', [0x41, 0xbc, 0x00, 0x00], 23.5],
    ['float32 swapped', [0x00, 0x00, 0x41, 0xbc], 23.5],
    ['float32 × -2', [0x41, 0xbc, 0x00, 0x00], -47],
  ])('%s', (text, bytes, value) => expect(decode(bytes, text)).toEqual({ value: expect.closeTo(value, 9), refused: null }));

  it.each<[RegisterType, number[], string]>([
    ['uint16', [0xff, 0xff], 'over_range'],
    ['int16', [0x7f, 0xff], 'over_range'],
    ['int16', [0x80, 0x00], 'over_range'],
    ['uint32', [0xff, 0xff, 0xff, 0xff], 'over_range'],
    ['int32', [0x80, 0, 0, 0], 'over_range'],
    ['float32', [0x7f, 0x80, 0, 0], 'over_range'],
    ['float32', [0x7f, 0xc0, 0, 0], 'not_a_number'],
    ['float32', [0x41, 0xbc], 'count'],
  ])('%s of %j is no reading', (type, bytes, code) => {
    const { value, refused } = decode(bytes, type);
    expect([value, refused?.code]).toEqual([Number.NaN, code]);
  });
  it('that stand one beside the end of their range are readings', () => {
    expect(decode([0x7f, 0xfe], 'int16').value).toBe(32_766);
    expect(decode([0xff, 0xfe], 'uint16').value).toBe(65_534);
    expect(decode([0, 0], 'uint16').value).toBe(0);
  });
});

describe('figures of JSON', () => {
  it.each<[unknown, number, string | undefined]>([
    [23.5, 23.5, undefined],
    ['23.5', 23.5, undefined],
    ['23.5 °C', 23.5, undefined],
    [true, 1, undefined],
    [null, Number.NaN, 'not_a_number'],
    [undefined, Number.NaN, 'nonsense'],
    ['open', Number.NaN, 'nonsense'],
    ['74.3 F', Number.NaN, 'wrong_unit'],
    [{ t: 23.5 }, Number.NaN, 'nonsense'],
    [1e38, Number.NaN, 'not_a_number'],
    [9.9e37, Number.NaN, 'over_range'],
  ])('%j', (json, value, code) => {
    const read = figureOf(json, 'degC', 'a.b');
    expect([read.value, read.refused[0]?.code]).toEqual([value, code]);
  });
  it('stand where the names lead, and nowhere else', () => {
    const json = JSON.parse('{"a":[{"b":1}],"__proto__":{"c":2}}');
    expect(valueAt(json, ['a', '0', 'b'])).toBe(1);
    expect([['a', '1'], ['toString'], ['a', 'length', 'x'], ['constructor', 'name']].map((path) => valueAt(json, path))).toEqual(
      Array.from({ length: 4 }, () => undefined),
    );
  });
});

describe('figures of a line', () => {
  const channel = { name: 'A', role: 'sensor', unit: 'degC', query: null } as const;
  const read = (line: string, text: string) => {
    const query = readQuery('serial', text);
    if (!query || 'problem' in query || query.kind !== 'serial') throw new Error(text);
    const figure = figureIn(line, query.place, channel);
    return figure && (figure.refused[0]?.code ?? figure.value);
  };
  it.each([
    ['T1=23.50,T2=31', 'T1={}', 23.5],
    ['T1=23.50,T2=31', 'T2={}', 31],
    ['T1: 23.50 C', 'T1:{}', 23.5],
    ['23.5 31.0', '{2}', 31],
    ['23.5;31.0', '{}', 23.5],
    ['23.5,,31.0', '{2}', 'nonsense'],
    ['T1=', 'T1={}', null],
    ['T1=2#.5', 'T1={}', 'nonsense'],
    ['T1=74F', 'T1={}', 'wrong_unit'],
    ['23.5', '{2}', null],
  ])('%s by %s', (line, text, want) => expect(read(line, text)).toBe(want));
});

describe('figures that nobody has named yet', () => {
  it.each([
    [
      'T1=23.50C, T2=31',
      [
        ['T1={}', 23.5],
        ['T2={}', 31],
      ],
    ],
    [
      'Room: 22.1 Part: 40',
      [
        ['Room: {}', 22.1],
        ['Part: {}', 40],
      ],
    ],
    [
      '23.5,,31.0',
      [
        ['{1}', 23.5],
        ['{3}', 31],
      ],
    ],
    ['ready', []],
    ['T1=open', []],
  ])('of the line "%s" can be read back by what is proposed', (line, want) => {
    const found = figuresOfLine(line);
    expect(found.map((f) => [f.query, f.value])).toEqual(want);
    for (const { query, value } of found) {
      const read = readQuery('serial', query);
      if (!read || 'problem' in read || read.kind !== 'serial') throw new Error(query);
      expect(figureIn(line, read.place, { name: 'A', role: 'sensor', unit: query === 'T1={}' ? 'degC' : null, query })?.value).toBe(value);
    }
  });
  it('of JSON are numbers, yes and no, and texts with a figure, by the names that lead to them', () => {
    const json = { a: [{ t: '21.5 °C', on: true, id: 'x1' }], 'b.c': 3, '': 4, d: { e: 1e3, f: null } };
    expect(figuresOf(json).map((f) => [f.path.join('.'), f.value, f.unit])).toEqual([
      ['a.0.t', 21.5, 'degC'],
      ['a.0.on', 1, null],
      ['d.e', 1000, null],
    ]);
  });
});
