import { describe, expect, it } from 'vitest';
import { keepUnits } from '#core/text/words';
import { mountWords } from './mountWords';

const mount = {
  specimen: 'A',
  mount: 1,
  mount_id: 1,
  value: null,
  at_or_above: null,
  excluded_reason: null,
  left_out_value: null,
  run_ids: [1],
};

describe('a mount in words', () => {
  it.each([
    [{ value: 41.26 }, '41.3'],
    [{ at_or_above: 67.14 }, '≥ 67.1'],
    [{ at_or_below: 1950 }, '≤ 1950.0'],
    [{ excluded_reason: 'tilted', left_out_value: 44.1 }, '44.1'],
    [{}, '–'],
  ])('%j is %s', (change, words) => {
    expect(mountWords({ ...mount, ...change }, 1)).toBe(words);
  });
});

describe('figures and their units', () => {
  it('stay on one line, words do not', () => {
    expect(keepUnits('3 K cooler at 140 W (95 % 1 to 2, 5 mounts)')).toBe('3\u00a0K cooler at 140\u00a0W (95\u00a0% 1 to 2, 5 mounts)');
    expect(keepUnits('0.3 K/W, 2100 MHz, 1200 rpm')).toBe('0.3\u00a0K/W, 2100\u00a0MHz, 1200\u00a0rpm');
    expect(keepUnits('lid 37 × 37 mm, 1369 mm², 3 × Fin')).toBe('lid 37\u00a0×\u00a037\u00a0mm, 1369\u00a0mm², 3 × Fin');
    expect(keepUnits('mount 3 Keep')).toBe('mount 3 Keep');
  });
});
