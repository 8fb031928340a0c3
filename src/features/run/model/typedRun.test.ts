import { describe, expect, it } from 'vitest';
import { check } from '#rules/validation';
import { columnOf, isEmptyRow, isReadingTable, isValueOpen, readDate, readingHeader, rowProblem, typedRow, valueAs } from './readingTable';
import { outcomesTyped, typedAsked } from './typedAsked';
import { TypedValues as Rules, type TypedValues, typedReadings, typedRemedies, valuesProblem, withoutEmpty } from './typedRun';

const values = (texts: TypedValues['texts'], more: Partial<TypedValues> = {}): TypedValues => ({ texts, throttled: 'unknown', ...more });

describe('what was typed of a run', () => {
  it('may be any reading; the room alone is none', () => {
    expect(valuesProblem(values({}))).toBe('Enter at least one reading besides the room.');
    expect(valuesProblem(values({ room_c: '21' }))).toBe('Enter at least one reading besides the room.');
    expect(valuesProblem(values({ score: '900' }))).toBeNull();
    expect(valuesProblem(values({}, { events: [{ event: 'shut-off', time: '1:35', reached: false }] }))).toBeNull();
  });
  it('is held against itself, and told in a sentence where it does not fit', () => {
    expect(valuesProblem(values({ throttle_pct: '12' }, { throttled: 'no' }))).toMatch(
      /throttled for 12 % of the time, but is marked as not throttled/,
    );
    expect(valuesProblem(values({ throttle_pct: '0' }, { throttled: 'no' }))).toBeNull();
    expect(valuesProblem(values({}, { parts: [{ name: ' ', text: '61' }] }))).toBe('A part that was read needs its name.');
    const twice = { parts: [1, 2].map(() => ({ name: 'Memory', text: '61' })) };
    expect(valuesProblem(values({}, twice))).toBe('Memory is entered twice; each part and each event has one reading.');
  });
  it('reads a fan in percent from the field of its speed, and is sent without what is empty', () => {
    expect(typedReadings({ fan_rpm: '45 %' })).toMatchObject({ fan_pct: { value: 45 } });
    expect(typedReadings({ fan_rpm: '1200' })).toMatchObject({ fan_rpm: { value: 1200 } });
    const sent = withoutEmpty({ texts: { mean_c: '61', room_c: ' ' }, parts: [{ name: '', text: '' }], events: [], note: ' ' });
    expect(sent).toEqual({ texts: { mean_c: '61' }, throttled: 'unknown' });
    expect(check(Rules, sent as unknown as Record<string, unknown>)).toMatchObject(sent);
    expect(() => check(Rules, { texts: { mean_c: 'warm' } })).toThrow(/is no reading/);
  });
});

describe('readings that do not count as the study stands', () => {
  it('are given the ways that would let them, the smallest change first', () => {
    const words = (texts: TypedValues['texts'], options = {}) => typedRemedies(values(texts), options).map((r) => r.words);
    expect(words({ mean_c: '61', room_c: '21' })).toEqual([]);
    expect(words({ max_c: '64', room_c: '21' })).toEqual(['Compare this study by the highest reading']);
    expect(words({ mean_c: '61' })).toEqual(['Compare this study by the temperature as it was read, without a room']);
    expect(words({ max_c: '64' })).toEqual(['Compare this study by the highest reading, without a room']);
    expect(words({ score: '900' })).toEqual([]);
    expect(words({ max_c: '64' }, { rise_wanted: false })).toEqual([]);
    expect(typedRemedies(values({ max_c: '64' }), {})[0].change).toEqual({ value_school: 'peak', ambient_school: 'absolute' });
  });
});

describe('what a study asks for of a typed run', () => {
  it('follows its outcomes, its choices and the limits of its parts', () => {
    expect(typedAsked({})).toMatchObject({ fields: ['mean_c', 'room_c'], parts: [], events: false });
    expect(typedAsked({ value_school: 'peak', ambient_school: 'absolute' }).fields).toEqual(['max_c']);
    expect(typedAsked({ outcomes: [{ key: 'score', margin: 10 }] }).fields).toEqual(['score']);
    expect(typedAsked({ outcomes: [{ key: 'time_to_event', margin: 10 }] })).toMatchObject({ fields: [], parts: [], events: true });
    const limits = {
      part_limits: 'Memory: Mem 1, Mem 2 = 95; Regulator: VRM = 110',
      outcomes: [{ key: 'limit_room' as const, margin: 1 }],
    };
    expect(typedAsked(limits)).toMatchObject({ fields: ['mean_c', 'room_c'], parts: ['Mem 1', 'Mem 2', 'VRM'] });
  });
});

describe('what was read where no temperature was', () => {
  it('is told from the readings themselves, by the same table as what is asked', () => {
    const read = (texts: TypedValues['texts'], more: Partial<TypedValues> = {}) => outcomesTyped([values(texts, more)]);
    expect(read({ voltage_v: '1.05' })).toEqual(['voltage']);
    expect(read({ throttle_pct: '12', slow_frame_rate: '40' })).toEqual(['slow_frame_rate', 'throttle_share']);
    expect(read({ fan_rpm: '45 %' })).toEqual(['fan_duty']);
    expect(read({ fan_rpm: '1200', power_w: '80' })).toEqual(['fan_speed', 'power']);
    // exhaust air says nothing without the room
    expect([read({ exhaust_c: '40' }), read({ exhaust_c: '40', room_c: '21' })]).toEqual([[], ['exhaust']]);
    expect(read({ power_w: '80' }, { events: [{ event: 'shut-off', time: '95', reached: true }] })).toEqual(['time_to_event', 'power']);
    expect(read({ power_w: '80', max_c: '61' })).toEqual([]);
  });
});

describe('a table of readings', () => {
  it('asks what a column called value holds, and keeps what other rows hold in that reading', () => {
    const rows = [
      { specimen: 'A', mean_c: '61' },
      { specimen: 'B', value: '64' },
      { specimen: 'C', value: ' ' },
    ];
    expect([isValueOpen(rows), isValueOpen(rows.slice(0, 1)), isValueOpen(rows.slice(2))]).toEqual([true, false, false]);
    expect(rows.map((r) => valueAs(r, 'mean_c'))).toEqual([
      { specimen: 'A', mean_c: '61' },
      { specimen: 'B', mean_c: '64' },
      { specimen: 'C' },
    ]);
  });

  it('knows its columns by their words', () => {
    expect(['State', 'Mount', 'Highest reading / °C', 'fps', 'VRM', 'date', 'Value'].map((h) => columnOf(h, ['part:VRM']))).toEqual([
      'specimen',
      'mount',
      'max_c',
      'frame_rate',
      'part:VRM',
      'read_at',
      'value',
    ]);
    expect(readingHeader(['specimen', 'mount', 'run', 'value', 'date', 'moon'], [])).toEqual({
      columns: ['specimen', 'mount', null, 'value', 'read_at', null],
      unknown: ['moon'],
    });
    expect(isReadingTable(['specimen', 'mount', 'run', 'value', 'date'])).toBe(true);
    // a log names no specimen
    expect(isReadingTable(['Time', 'Die 1 / °C', 'Room / °C', 'Power / W'])).toBe(false);
    expect(isReadingTable(['specimen', 'mount'])).toBe(false);
  });
  it('reads days that can be read one way only', () => {
    expect(readDate('2026-06-04 14:30')).toEqual(new Date(2026, 5, 4, 14, 30));
    expect(readDate('4.6.2026')).toEqual(new Date(2026, 5, 4, 12, 0));
    for (const text of ['6/4/2026', '2026-02-30', 'yesterday', '']) expect(readDate(text), text).toBeNull();
  });
  it('tells what is wrong in which column, and passes over rows in which nothing was read', () => {
    expect(isEmptyRow({ specimen: 'A', mount: '1', read_at: '2026-06-04' })).toBe(true);
    expect(isEmptyRow({ specimen: 'A', score: '1' })).toBe(false);
    const wrong = (cells: object, rig = true) => rowProblem({ specimen: 'A', mean_c: '61', ...cells }, rig)?.column ?? null;
    expect(wrong({})).toBeNull();
    expect(wrong({ specimen: ' ' })).toBe('specimen');
    expect(wrong({}, false)).toBe('rig');
    expect(wrong({ rig: 'Ash' }, false)).toBeNull();
    expect([wrong({ mount: '0' }), wrong({ mount: '1.5' }), wrong({ mount: '12' })]).toEqual(['mount', 'mount', null]);
    expect(wrong({ read_at: '6/4/2026' })).toBe('read_at');
    expect(wrong({ score: 'high' })).toBe('score');
    expect(wrong({ coldest_c: '70', hottest_c: '60' })).toBe('specimen');
    expect(typedRow({ specimen: ' A ', mount: '2', 'part:VRM': '80', rig: '' }, 'x')).toEqual({
      ...{ specimen: 'A', mount: 2, rig: null, load: null, read_at: null, import_id: 'x' },
      ...{ texts: {}, throttled: 'unknown', parts: [{ name: 'VRM', text: '80' }] },
    });
  });
});
