import { describe, expect, it } from 'vitest';
import { analyse } from '#core/compare/analyse';
import { blocksDone, lookAt, lookLevel } from './looks';
import { curvePoint } from './mountsCurve';
import { judgeVerdict, type RehearsalPlan, Rehearser, rehearse } from './rehearse';

const plan = (k: number, mounts: number, riseOf: (i: number) => number, more: Partial<RehearsalPlan> = {}): RehearsalPlan => ({
  ...{ runs: 2, mount_sd: 0.5, run_sd: 0.15, margin: 1, confidence: 0.95, family: 'all', scatter: 'pooled' },
  ...{ day_sd: 0, block: null, rigs: 1, failure: 0, limit_rise_k: null, looks: [], mount_min: 25, run_min: 40 },
  specimens: Array.from({ length: k }, (_, i) => ({ specimen: `S${i + 1}`, rise_k: 40 + riseOf(i), mounts })),
  ...more,
});
/** Simulation error allowed above a rate: three standard errors. */
const above = (rate: number, count: number) => rate + 3 * Math.sqrt((rate * (1 - rate)) / count);

describe('a rehearsal', () => {
  it.each([
    ['pooled', 8, 5],
    ['pooled', 3, 3],
    ['separate', 2, 4],
    ['separate', 4, 6],
  ] as const)('%s, %i specimens that do not differ, %i mounts: wrong calls keep to the stated error', (scatter, k, mounts) => {
    const count = 600;
    const r = rehearse(
      plan(k, mounts, () => 0, { scatter, runs: 1 }),
      count,
      7,
    );
    expect(r.wrong_any).toBeLessThanOrEqual(above(0.05, count));
    expect(r.correct + r.wrong + r.unresolved).toBeCloseTo(1, 10);
  });

  it('takes the blocks of the plan out: days that shift do no harm then, and much without', () => {
    const share = (more: Partial<RehearsalPlan>) =>
      rehearse(
        plan(4, 5, (i) => 1.8 * i, { mount_sd: 0.4, runs: 1, ...more }),
        300,
        5,
      ).correct;
    const [still, blocked, loose] = [share({}), share({ day_sd: 1.5, block: 'day' }), share({ day_sd: 1.5 })];
    expect(still).toBeGreaterThan(0.85);
    expect(blocked).toBeGreaterThan(still - 0.05);
    expect(loose).toBeLessThan(blocked - 0.25);
    // a near miss: one rig parts nothing, and its plan is judged without blocks
    expect(share({ block: 'rig' })).toBe(still);
    expect(share({ block: 'rig', rigs: 2 })).toBeGreaterThan(still - 0.05);
  });

  it.each([
    ['pooled', 'all', 5, 4],
    ['separate', 'all', 5, 6],
    ['pooled', 'reference', 4, 5],
    ['separate', 'reference', 4, 6],
  ] as const)(
    '%s scatter, family %s: a difference as large as detectable_k is found with the wanted power',
    (scatter, family, k, mounts) => {
      const count = 600;
      const { detectable_k } = curvePoint(
        { specimens: k, runs: 2, mount_sd: 0.5, run_sd: 0.15, margin: 1, confidence: 0.95, family, scatter, power: 0.8 },
        mounts,
      );
      const r = rehearse(
        plan(k, mounts, (i) => (i === 0 ? 0 : detectable_k), { scatter, family }),
        count,
        8,
      );
      const apart = r.pairs.filter((p) => p.difference !== 0);
      expect(apart).toHaveLength(k - 1);
      const right = apart.reduce((sum, p) => sum + p.correct, 0) / apart.length;
      expect(right).toBeGreaterThanOrEqual(0.8 - 0.03);
    },
  );

  it('judges each simulated study by the same analysis as `analyse`', () => {
    const given = plan(4, 4, (i) => i, { scatter: 'auto', limit_rise_k: 43.2, failure: 0.2 });
    const rehearser = new Rehearser(given, 3);
    const totals = { correct: 0, wrong: 0, unresolved: 0 };
    for (let i = 0; i < 20; i++) {
      const study = rehearser.study();
      const whole = analyse(study.rows, {
        margin: 1,
        confidence: 0.95,
        scatter: 'auto',
        family: 'all',
        default_mount_sd: 0.5,
        reference: 'S1',
        chances: false,
        outlook: false,
      });
      expect(study.looks).toEqual([whole]);
      expect(study.verdicts.map((v) => v.verdict)).toEqual(whole.pairs.map((p) => p.verdict));
      for (const p of whole.pairs) totals[judgeVerdict(p.verdict, Number(p.a.slice(1)) - Number(p.b.slice(1)), 1)]++;
    }
    const all = totals.correct + totals.wrong + totals.unresolved;
    const r = rehearse(given, 20, 3);
    expect(r.correct).toBeCloseTo(totals.correct / all, 10);
    expect(r.wrong).toBeCloseTo(totals.wrong / all, 10);
  });

  it('shows throttling, failures and their hours', () => {
    const r = rehearse(
      plan(3, 3, (i) => 4 * i, { limit_rise_k: 48 }),
      200,
      1,
    );
    expect(r.throttled.map((t) => t.share).slice(0, 2)).toEqual([0, 0]);
    expect(r.throttled[2].share).toBeCloseTo(0.5, 1);
    expect(r.hours).toBeCloseTo((9 * (25 + 80)) / 60, 10);
    expect(
      rehearse(
        plan(3, 3, () => 0, { failure: 0.5 }),
        200,
        1,
      ).hours,
    ).toBeGreaterThan(r.hours);
  });

  it('stops early at planned looks where all is settled, and keeps the error over them', () => {
    const apart = rehearse(
      plan(3, 8, (i) => 4 * i, { looks: [0.5] }),
      200,
      2,
    );
    expect(apart.early).toBeGreaterThan(0.9);
    expect(apart.hours).toBeLessThan((24 * 105) / 60);
    const count = 600;
    const same = rehearse(
      plan(3, 8, () => 0, { looks: [0.5, 0.75], margin: 0.2, runs: 1 }),
      count,
      2,
    );
    expect(same.wrong_any).toBeLessThanOrEqual(above(0.05, count));
  });

  it('repeats for a seed', () => {
    expect(
      rehearse(
        plan(3, 3, () => 0),
        50,
        5,
      ),
    ).toEqual(
      rehearse(
        plan(3, 3, () => 0),
        50,
        5,
      ),
    );
    expect(
      rehearse(
        plan(3, 3, () => 0),
        50,
        5,
      ),
    ).not.toEqual(
      rehearse(
        plan(3, 3, () => 0),
        50,
        6,
      ),
    );
  });

  it('holds a verdict against the supposed difference', () => {
    const judged = (['cooler', 'warmer', 'cooler_within_margin', 'warmer_within_margin', 'tied', 'unresolved'] as const).map((v) => [
      v,
      [-2, -0.5, 0, 0.5, 2].map((d) => judgeVerdict(v, d, 1)[0]).join(''),
    ]);
    expect(Object.fromEntries(judged)).toEqual({
      cooler: 'ccwww',
      warmer: 'wwwcc',
      cooler_within_margin: 'wcwww',
      warmer_within_margin: 'wwwcw',
      tied: 'wcccw',
      unresolved: 'uuuuu',
    });
  });
});

describe('looks at a study under way', () => {
  const { rows } = new Rehearser(
    plan(3, 4, (i) => 5 * i),
    4,
  ).study();
  const options = { margin: 1, confidence: 0.95 };
  const names = ['S1', 'S2', 'S3'];
  const upTo = (m: number) => rows.filter((r) => Number(r.mount) <= m);

  it('count complete blocks, and say nothing before the second', () => {
    expect(blocksDone(upTo(2), names)).toBe(2);
    expect(blocksDone([...upTo(1), ...rows.filter((r) => r.specimen === 'S1')], names)).toBe(1);
    expect(blocksDone(upTo(2), [...names, 'S4'])).toBe(0);
    expect(lookAt(upTo(1), { specimens: names, mounts: 4, looks: [2] }, options)).toBeNull();
  });
  it('show the last planned look with its stricter confidence, and all at the end', () => {
    const early = lookAt(upTo(3), { specimens: names, mounts: 4, looks: [2] }, options);
    expect(early).toMatchObject({ blocks_done: 3, look: 2, next_look: 4 });
    expect(early?.confidence).toBeCloseTo(1 - 2 * 0.0015, 3);
    expect((early?.settled.length ?? 0) + (early?.open.length ?? 0)).toBe(3);
    const end = lookAt(rows, { specimens: names, mounts: 4, looks: [2] }, options);
    expect(end).toMatchObject({ look: 4, next_look: null });
    expect(end?.spent).toBeCloseTo(0.05, 9);
    expect(end?.confidence).toBeGreaterThan(0.95);
  });
  it('without planned looks show what is in at the confidence of the study', () => {
    const state = lookAt(upTo(2), { specimens: names, mounts: 4, looks: [] }, options);
    expect(state).toMatchObject({ look: null, confidence: 0.95 });
    for (const p of state?.open ?? []) expect(p.more_mounts).toBeGreaterThan(0);
    expect(lookLevel([2], 4, 0, 0.95)).toEqual({ confidence: 0.95, spent: 0 });
  });
});
