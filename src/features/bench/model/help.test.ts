import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { FINDING_HELP } from './findingHelp';
import { HEADINGS, headingHelp } from './headings';
import { METHODS } from './methods';

const root = new URL('../../../', import.meta.url).pathname;
const sources = (folder: string): string[] =>
  readdirSync(folder, { withFileTypes: true }).flatMap((e) => {
    if (e.isDirectory()) return sources(`${folder}/${e.name}`);
    return /\.tsx?$/.test(e.name) && !/\.test\.|findingHelp/.test(e.name) ? [`${folder}/${e.name}`] : [];
  });
const text = ['core', 'features'].flatMap((f) => sources(root + f)).map((f) => readFileSync(f, 'utf8'));
const CHECKS = [
  'core/signal',
  'core/compare',
  'core/design',
  'core/image',
  'features/mount/model',
  'features/study/model',
  'features/shelf/model',
];

describe('the help', () => {
  it('knows every finding that a check can make, and none that no check makes', () => {
    const made = CHECKS.flatMap((f) => sources(root + f)).flatMap((f) =>
      [...readFileSync(f, 'utf8').matchAll(/(?:\bcode:\s*|\badd\(\s*|\bwarn\(\s*)'([a-z]+_[a-z_]+)'/g)].map((m) => m[1]),
    );
    expect(made.length).toBeGreaterThan(60);
    expect([...new Set(made)].filter((code) => !(code in FINDING_HELP))).toEqual([]);
    expect(Object.keys(FINDING_HELP).filter((code) => !text.some((t) => t.includes(`'${code}'`)))).toEqual([]);
  });

  it('says what stands under a heading, with a name in it or without', () => {
    expect(headingHelp('Materials compared')?.heading).toBe('{}s compared');
    expect(headingHelp(' Against  Loam White ')?.line).toMatch(/against the reference/);
    expect(headingHelp('2 runs need your decision')).not.toBeNull();
    expect(headingHelp('Something else')).toBeNull();
    expect(new Set(HEADINGS.map((h) => h.heading)).size).toBe(HEADINGS.length);
  });

  it('tells each method with its formula, when it is right, and its source', () => {
    for (const m of METHODS)
      expect(
        Object.values(m).every((v) => v.length > 5),
        m.name,
      ).toBe(true);
  });
});
