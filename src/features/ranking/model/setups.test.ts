import { describe, expect, it } from 'vitest';
import { rankingEvidence } from './rankingRows';
import { type LabPlace, setupsOf } from './setups';

let made = 0;
const place = (over: Partial<LabPlace> = {}): LabPlace => ({
  ...{
    key: `${++made}/1/1/`,
    study_id: made,
    study: `Study ${made}`,
    rig_id: 1,
    rig: 'Sled',
    part: 'card, 0117',
    contact: 'lid',
    area_mm2: 400,
  },
  ...{ area_problem: '', cooler_id: 1, cooler: 'Fin', load: null, power_w: 100, pressure: 'medium', mounts: [], left_out: [] },
  ...{ lab: null, lab_scatter: [], reference: null, ...over },
});
const keys = (setups: ReturnType<typeof setupsOf>) => setups.map((s) => s.places.map((p) => p.study_id));
let mounted = 0;
const mount = (material: string, k_per_w: number, over = {}) => ({
  ...{ mount_id: ++mounted, material, name: material, kind: 'paste', lot: '', k_per_w, at_s: 1_750_000_000, ...over },
});

describe('set-ups', () => {
  it('are the same where all but the material is: a change of one is another set-up', () => {
    const one = place();
    for (const change of [
      { rig_id: 2 },
      { part: 'card, 0118' },
      { cooler_id: 2 },
      { area_mm2: 401 },
      { contact: 'die' },
      { pressure: 'firm' },
      { pressure: null },
      { load: 'Full' },
      { lab: 'Elsewhere' },
    ] as Partial<LabPlace>[])
      expect(setupsOf([one, place(change)], []), JSON.stringify(change)).toHaveLength(2);
    expect(setupsOf([one, place()], [])).toHaveLength(1);
  });

  it('take power within 10 % of the least as the same, and not a watt more', () => {
    expect(setupsOf([place({ power_w: 110 }), place({ power_w: 100 })], [])).toHaveLength(1);
    expect(setupsOf([place({ power_w: 110.1 }), place({ power_w: 100 })], [])).toHaveLength(2);
    // a chain of small steps is no single load
    expect(
      setupsOf(
        [100, 109, 118].map((power_w) => place({ power_w })),
        [],
      ),
    ).toHaveLength(2);
  });

  it('are joined and split by what is said, the later going before; what comes later joins what it is recognised as', () => {
    const [a, b, c, later] = [place(), place({ rig_id: 2 }), place({ rig_id: 2 }), place({ rig_id: 2 })];
    const together = { kind: 'together' as const, places: [a.key, b.key] };
    const apart = { kind: 'apart' as const, places: [c.key] };
    expect(keys(setupsOf([a, b, c], [together]))).toEqual([[a.study_id, b.study_id, c.study_id]]);
    expect(keys(setupsOf([a, b, c, later], [together, apart]))).toEqual([[a.study_id, b.study_id, later.study_id], [c.study_id]]);
    expect(keys(setupsOf([a, b, c], [apart, { kind: 'together', places: [a.key, c.key] }]))).toEqual([
      [a.study_id, c.study_id],
      [b.study_id],
    ]);
    expect(setupsOf([a, b, c], [together]).every((s) => s.is_said)).toBe(true);
    expect(setupsOf([a, b, c], []).some((s) => s.is_said)).toBe(false);
    // what names a study that is gone says nothing
    expect(setupsOf([a], [together, { kind: 'apart', places: ['99/1/1/'] }])[0].is_said).toBe(false);
  });

  it('have names that differ, and tell another lab', () => {
    const names = setupsOf([place(), place({ cooler_id: 2, cooler: 'Slab' }), place({ lab: 'Elsewhere' }), place({ power_w: 50 })], []).map(
      (s) => s.name,
    );
    expect(new Set(names).size).toBe(4);
    expect(names[2]).toContain('Elsewhere');
  });
});

describe('evidence', () => {
  const choice = { lots: 'apart', labs: 'own', years: null } as const;
  const now = 1_780_000_000;

  it('is area-scaled, one row a set-up and material, with what is left out beside it', () => {
    const setups = setupsOf(
      [
        place({ mounts: [mount('A', 0.1), mount('A', 0.12), mount('B', 0.2)], left_out: [{ name: 'C', mounts: 2, why: 'throttled' }] }),
        place({ rig_id: 2, area_mm2: null, area_problem: 'no size', mounts: [mount('A', 0.3)] }),
      ],
      [],
    );
    const { rows, left_out } = rankingEvidence(setups, choice, now);
    expect(rows.map((r) => [r.material, Number(r.mean.toFixed(9)), r.mounts])).toEqual([
      ['A', 44, 2],
      ['B', 80, 1],
    ]);
    expect(left_out.map(({ name, mounts, why }) => [name, mounts, why])).toEqual([
      ['C', 2, 'throttled'],
      ['A', 1, 'no size'],
    ]);
    expect(rankingEvidence(setups, choice, now).usual_scatter).toHaveLength(2);
    // what is assumed of a paste is 0.5 K at 100 W, on 400 mm²
    expect(rows[1].variance).toBeCloseTo(((0.5 * 400) / 100 / 1 ** 2) * ((0.5 * 400) / 100), 9);
  });

  it('takes a name for the sheet of that name, however its letters are written', () => {
    const named = mount('n:ash 5', 0.1, { name: 'ASH 5' });
    const { names } = rankingEvidence(setupsOf([place({ mounts: [named, mount('m7', 0.1, { name: 'Ash 5' })] })], []), choice, now);
    expect(names.map((n) => [n.key, n.material_id])).toEqual([['m7', 7]]);
  });

  it('parts two lots of one material, and not one lot from mounts without', () => {
    const lots = (...of: string[]) =>
      rankingEvidence(setupsOf([place({ mounts: of.map((lot) => mount('A', 0.1, { lot })) })], []), choice, now);
    expect(lots('x', 'y').names.map((n) => n.name)).toEqual(['A, lot x', 'A, lot y']);
    expect(lots('x', 'y', '').names).toHaveLength(3);
    expect(lots('x', '').names.map((n) => n.name)).toEqual(['A']);
    const together = rankingEvidence(
      setupsOf([place({ mounts: [mount('A', 0.1, { lot: 'x' }), mount('A', 0.1, { lot: 'y' })] })], []),
      { ...choice, lots: 'together' },
      now,
    );
    expect(together.names.map((n) => n.name)).toEqual(['A']);
    expect(together.several_lots).toEqual(['A']);
  });

  it('leaves other labs and what is older out where that is asked, at the very second', () => {
    const year = 365.25 * 86_400;
    const setups = setupsOf(
      [
        place({
          mounts: [mount('A', 0.1, { at_s: now - year }), mount('A', 0.1, { at_s: now - year - 1 }), mount('A', 0.1, { at_s: null })],
        }),
        place({ lab: '', mounts: [mount('A', 0.1)] }),
      ],
      [],
    );
    expect(rankingEvidence(setups, choice, now).mounts).toHaveLength(3);
    expect(rankingEvidence(setups, { ...choice, labs: 'all' }, now).mounts).toHaveLength(4);
    expect(rankingEvidence(setups, { ...choice, years: 1 }, now).mounts).toHaveLength(1);
    expect(rankingEvidence(setups, { ...choice, years: 1 }, now).left_out).toMatchObject([
      { mounts: 2, why: 'older than what is looked at' },
    ]);
  });

  it('takes a scatter of a lab’s kind where a set-up tells none, the lab’s own word for another lab, and no scatter of nothing', () => {
    const many = place({ mounts: [0.1, 0.11, 0.12, 0.13, 0.14].map((v) => mount('A', v)) });
    const single = place({ rig_id: 2, mounts: [mount('A', 0.3)] });
    const [own, other] = rankingEvidence(setupsOf([many, single], []), choice, now).rows;
    expect(other.variance).toBeCloseTo(own.variance * 5, 9);
    const theirs = place({
      rig_id: 3,
      lab: 'X',
      lab_scatter: [{ kind: 'paste', mount_sd: 2, run_sd: 0, mounts: 9, df: 8 }],
      mounts: [mount('A', 0.3)],
    });
    expect(rankingEvidence(setupsOf([many, theirs], []), { ...choice, labs: 'all' }, now).rows[1].variance).toBeCloseTo(
      ((2 * 400) / 100) ** 2,
      9,
    );
    const still = place({ rig_id: 4, mounts: [0.2, 0.2, 0.2, 0.2, 0.2].map((v) => mount('B', v)) });
    expect(rankingEvidence(setupsOf([still], []), choice, now).rows[0]).toMatchObject({ basis: 'assumed' });
  });
});
