import { describe, expect, it } from 'vitest';
import { check } from '#rules/validation';
import { decisionsOf, isDecided, Layout, LayoutFile } from './layout';

const layout = (more: object = {}) => ({ name: 'Box', headers: ['t', 'a'], reading: {}, ...more });

describe('a layout', () => {
  it('tells its decisions in words', () => {
    const kept = check(
      Layout,
      layout({ reading: { roles: { a: 'sensor', b: 'ignore' }, units: { a: 'degF' }, day_first: false, decimal: ',' }, sensor: 'a' }),
    );
    expect(decisionsOf(kept)).toEqual(['a is sensor', 'b is left aside', 'a in degF', 'the month is first', 'decimal “,”', 'judged by a']);
  });
  it('is worth keeping once anything was decided', () => {
    expect(isDecided({}, null)).toBe(false);
    expect(isDecided({ keep_guesses: true }, null)).toBe(false);
    expect(isDecided({ delimiter: ';' }, null)).toBe(true);
    expect(isDecided({ day_first: true }, null)).toBe(true);
    expect(isDecided({}, 'Die 1')).toBe(true);
  });
  it.each([
    [{ name: '' }, '1 to 120 characters'],
    [{ headers: ['t'] }, 'a list of 2 to 2000 texts'],
    [{ headers: ['t', 'x'.repeat(501)] }, 'up to 500 characters'],
    [{ headers: ['t', 1] }, 'a list of 2 to 2000 texts'],
    [{ reading: { roles: { a: 'boiler' } } }, 'each value should be one of'],
  ])('with %j is refused', (bad, sentence) => {
    expect(() => check(Layout, layout(bad))).toThrow(sentence);
  });
  it('drops what it does not know, and a file of them holds no more than it may', () => {
    expect(check(Layout, layout({ secret: 1 }))).not.toHaveProperty('secret');
    expect(() => check(LayoutFile, { layouts: Array.from({ length: 501 }, () => layout()) })).toThrow(
      'a list named "layouts", of up to 500',
    );
  });
});
