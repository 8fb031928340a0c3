import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { CHECKED, type Checked, checkedAddress } from './checked';

describe('how often a claim holds', () => {
  const headings = readFileSync('docs/calibration.md', 'utf8')
    .split('\n')
    .filter((line) => line.startsWith('#'))
    .map((line) => line.replace(/^#+ /, ''));
  it.each(Object.keys(CHECKED) as Checked[])('%s has its table in docs/calibration.md', (subject) => {
    expect(headings).toContain(CHECKED[subject]);
  });
  it('stands at an address of its own', () => {
    expect(checkedAddress('coolers')).toBe('/checked#heatsinks-fans-and-where-one-overtakes-the-other');
    expect(new Set((Object.keys(CHECKED) as Checked[]).map(checkedAddress)).size).toBe(Object.keys(CHECKED).length);
  });
});
