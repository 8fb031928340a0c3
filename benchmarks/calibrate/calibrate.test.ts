import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { CALIBRATION } from '#core/compare/calibration';
import { CLAIMS, CLAIMS_HEADING, withClaims } from './claims/index';
import { CONDITIONS, POWERS } from './conditions';
import { RAW_CONDITIONS, tallyRaw } from './rawLogs';
import { figuresModule, sweepPart, table, withSweepPart } from './report';
import { SWEEP_CONDITIONS, tallySweeps } from './sweeps';
import { type Judge, type Tally, tallyCondition } from './tally';

const rate = (t: Tally) => t.false_call / t.studies;
const condition = (key: string) => [...CONDITIONS, ...POWERS].find((c) => c.key === key) as (typeof CONDITIONS)[number];

/** Most that a share of 5 % shows by chance in so many studies: three standard errors above it. */
const most = (studies: number) => 0.05 + 3 * Math.sqrt((0.05 * 0.95) / studies);

describe('the calibration, in short', () => {
  it.each(['equal_3', 'reference', 'days_blocked', 'days_incomplete', 'throttled', 'before_after', 'odd'])(
    'keeps the error of firm calls and ties: %s',
    (key) => {
      const t = tallyCondition(condition(key), 400, 7);
      expect(t.firm.studies).toBe(400);
      expect(rate(t.firm)).toBeLessThan(most(400));
      expect(t.default.false_tie / t.default.studies).toBeLessThan(most(400));
      expect(t.default.covered / t.default.intervals).toBeGreaterThan(1 - most(400) - 0.02);
    },
  );
  it('finds a pair that is margins apart as often as the plan says', () => {
    const t = tallyCondition(condition('power_two_1'), 600, 7);
    // the formula says 77.9 %; three standard errors of 600 studies are 5 points
    expect(t.pooled.found / t.pooled.studies).toBeGreaterThan(0.72);
    expect(t.pooled.found / t.pooled.studies).toBeLessThan(0.84);
  });
  it.each(CLAIMS.filter((c) => c.claim.startsWith('change with age')))('holds $claim, $condition', async ({ run }) => {
    const cases = await Promise.all(Array.from({ length: 60 }, (_, i) => run(i + 1)));
    expect(cases.filter((c) => c.held === 1).length / cases.length).toBeGreaterThan(1 - most(60));
  });
  it('keeps the part on claims when the rest is written anew', () => {
    const written = withClaims('# Table\n', `${CLAIMS_HEADING}\n\nhow\n\n### A\n\nold\n\n### B\n\nstays\n`);
    expect(written).toBe(`# Table\n\n${CLAIMS_HEADING}\n\nhow\n\n### A\n\nold\n\n### B\n\nstays\n`);
    expect(withClaims(written, `${CLAIMS_HEADING}\n\nhow\n\n### A\n\nnew\n`)).toBe(
      `# Table\n\n${CLAIMS_HEADING}\n\nhow\n\n### A\n\nnew\n\n### B\n\nstays\n`,
    );
  });
  it('sends raw logs through reading, reduction and verdicts', () => {
    const apart = RAW_CONDITIONS.find((c) => c.key === 'raw_apart');
    if (!apart) throw new Error('there is no such condition');
    const t = tallyRaw(apart, 4, 3);
    // 3 K of difference are found in every campaign, whatever the scatter of a single one
    expect(t.default).toMatchObject({ studies: 4, found: 4, false_call: 0 });
  });
  it('keeps the error of verdicts at equal noise, curves and all, and finds coolers that differ', () => {
    const [same, apart] = SWEEP_CONDITIONS.map((c) => tallySweeps(c, 300, 7));
    expect(same.default.studies).toBeGreaterThan(290);
    expect(rate(same.default)).toBeLessThan(most(300));
    expect(same.default.covered / same.default.intervals).toBeGreaterThan(1 - most(300) - 0.02);
    expect(rate(apart.default)).toBeLessThan(most(300));
    expect(apart.default.found / apart.default.studies).toBeGreaterThan(0.9);
  });
  it('counts mounts that are added until something shows as what they are', () => {
    expect(rate(tallyCondition(condition('looks_added'), 200, 7).default)).toBeGreaterThan(0.09);
  });
});

describe('the table', () => {
  it('names every condition that was counted, its power and where a target is missed', () => {
    const t: Tally = { studies: 1000, false_call: 80, false_tie: 0, covered: 920, intervals: 1000, found: 500 };
    const all = Object.fromEntries(['default', 'pooled', 'separate', 'firm'].map((j) => [j, t])) as Record<Judge, Tally>;
    const counted = new Map([...RAW_CONDITIONS, ...CONDITIONS, ...POWERS].map((c) => [c.key, all]));
    const text = table(counted);
    for (const c of [...RAW_CONDITIONS, ...CONDITIONS, ...POWERS]) expect(text).toContain(`| ${c.says} |`);
    expect(text).toContain('| 8.0 ± 1.7 |');
    expect(text).toContain('firm calls, calls of the default school');
    expect(text).toMatch(/2 specimens × 5 mounts, the last 3 δ warmer\*: power of the default school 50\.0 points below the formula/);
    expect(figuresModule(counted)).toContain('separate_many: { all: 0.08, firm: 0.08 }');
  });
  it('takes in the part on coolers by itself, once or again', () => {
    const t: Tally = { studies: 1000, false_call: 40, false_tie: 0, covered: 960, intervals: 1000, found: 500 };
    const all = Object.fromEntries(['default', 'pooled', 'separate', 'firm'].map((j) => [j, t])) as Record<Judge, Tally>;
    const part = sweepPart(new Map(SWEEP_CONDITIONS.map((c) => [c.key, all])));
    const once = withSweepPart('# Table\n\n## Power\n\nrest', part);
    expect(once).toMatch(/^# Table\n\n## Coolers at equal noise\n[\s\S]*\| 4\.0 ± 1\.2 \|[\s\S]*## Power\n\nrest$/);
    expect(withSweepPart(once, part)).toBe(once);
  });
  it('that is committed holds the figures that the product shows', () => {
    const text = readFileSync('docs/calibration.md', 'utf8');
    const line = text.split('\n').find((l) => l.includes('8 × 5 mounts, equal scatter')) ?? '';
    const [, , , firm, , , separate] = line.split('|').map((cell) => Number.parseFloat(cell) / 100);
    expect(firm).toBeCloseTo(CALIBRATION.separate_many.firm, 2);
    expect(separate).toBeCloseTo(CALIBRATION.separate_many.all, 2);
    expect(text).toMatch(/\| +20000 \|/);
    expect(text).toMatch(/\| +1000 \|/);
  });
});
