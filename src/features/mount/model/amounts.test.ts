import { describe, expect, it } from 'vitest';
import { prescribedFor, prescribedProblem, readPrescribed, readRatio } from '#features/shelf/model/prescribed';
import { partsProblem } from '#features/shelf/model/rigParts';
import { amountsOf, cutPlans, type LaidMaterial, mixWords, partnerOf } from './amounts';
import { mountFindings } from './findings';
import { mountSteps } from './steps';

const paste: LaidMaterial = { name: 'Wick 60', kind: 'paste', sheet: { kind: 'paste', density_g_per_cm3: 2.5 } };
const pad: LaidMaterial = {
  name: 'Amber Pad',
  kind: 'pad',
  sheet: { kind: 'pad', thickness_mm: 0.5, sheet_length_mm: 60, sheet_width_mm: 40 },
};
const parts = [
  { name: 'Chip', contact: 'die' as const, length_mm: 20, width_mm: 16 },
  { name: 'Memory', contact: 'row' as const, length_mm: 14, width_mm: 12, count: 4, material_id: 7 },
];

describe('what each part of a rig takes', () => {
  it('is its own material, cut or dosed to its size', () => {
    const amounts = amountsOf({ tested: paste, rig: {}, parts, materials: new Map([[7, pad]]) });
    // 320 mm² × 45 µm × 1.15 = 16.56 mm³, 41.4 mg
    expect(amounts[0]).toMatchObject({ part: 'Chip', tested: true, mass_mg: expect.closeTo(41.4, 6), problems: [] });
    expect(amounts[0].words).toBe('spread to a film, 41 mg (0.017 ml) in all');
    expect(amounts[1]).toMatchObject({
      material: 'Amber Pad',
      tested: false,
      words: '4 pieces of 14 × 12 mm, 0.5 mm thick',
      mass_mg: null,
    });
    const [plan] = cutPlans({ tested: paste, rig: {}, parts, materials: new Map([[7, pad]]) });
    expect([plan.material, plan.sets, plan.placed.length]).toEqual(['Amber Pad', 3, 12]);
  });
  it('of one contact goes by the sheet of the rig, as its maker prescribes it where he does', () => {
    const rig = { contact: 'lid', contact_length_mm: 37, contact_width_mm: 37 };
    const told = (sheet: LaidMaterial['sheet']) =>
      amountsOf({ tested: { ...paste, sheet }, rig, parts: [], materials: new Map() })[0].words;
    expect(told(paste.sheet)).toMatch(/^4 dots of \d\.\d mm, 177 mg \(0\.071 ml\) in all$/);
    expect(told({ amounts: 'up to 400 mm²: 100 mg; up to 1600 mm²: 0.2 ml, 5 dots of 3 mm' })).toBe(
      '5 dots of 3 mm, 0.2 ml, as its maker prescribes',
    );
    expect(told({ amounts: 'up to 400 mm²: 100 mg' })).toMatch(/^4 dots/);
    expect(amountsOf({ tested: paste, rig: {}, parts: [], materials: new Map() })[0].words).toMatch(/no amount can be computed/);
  });
  it('is read from prescribed amounts and ratios, or refused in words', () => {
    expect(readPrescribed('to 1600 mm2: 0,2 ml; up to 400 mm²: 1 g, 1 dot')).toEqual([
      { up_to_mm2: 400, mass_mg: 1000, volume_ml: null, dots: 1, dot_mm: null },
      { up_to_mm2: 1600, mass_mg: null, volume_ml: 0.2, dots: null, dot_mm: null },
    ]);
    for (const wrong of ['a pea', 'up to 400 mm²', 'up to 400 mm²: much', 'up to 4 mm²: 1 g; up to 4 mm²: 2 g'])
      expect(prescribedProblem(wrong)).toMatch(/separated by semicolons/);
    // the size itself still counts
    expect(prescribedFor('up to 400 mm²: 100 mg', 400)?.mass_mg).toBe(100);
    expect(prescribedFor('up to 400 mm²: 100 mg', 400.1)).toBeNull();
    expect([readRatio('10 : 1 by mass'), readRatio('equal parts'), readRatio('some')]).toEqual([{ a: 10, b: 1 }, { a: 1, b: 1 }, null]);
  });
  it('keeps parts apart: names, sensors, shares, both sides of a size', () => {
    expect(partsProblem(parts)).toBeNull();
    expect(partsProblem([parts[0], { name: 'chip' }])).toMatch(/named twice/);
    expect(
      partsProblem([
        { name: 'A', sensors: 'D1, D2' },
        { name: 'B', sensors: 'D2' },
      ]),
    ).toMatch(/D2 is listed at two parts/);
    expect(
      partsProblem([
        { name: 'A', share_pct: 60 },
        { name: 'B', share_pct: 40 },
      ]),
    ).toBeNull();
    expect(
      partsProblem([
        { name: 'A', share_pct: 60 },
        { name: 'B', share_pct: 40.1 },
      ]),
    ).toMatch(/add up to 100\.1 %/);
    expect(partsProblem([{ name: 'A', length_mm: 3 }])).toMatch(/without a width/);
  });
});

describe('an epoxy', () => {
  it('is weighed with its partner, rubbed in, and cured before its first start', () => {
    expect(partnerOf('10 : 1', 100)).toBe(10);
    expect(mixWords('10 : 1', 110)).toBe('For 110 mg: 100 mg of A and 10 mg of B.');
    const steps = mountSteps({
      ...{ kind: 'epoxy', part: 'lid', masked_neighbours: '', run_min: 30 },
      sheet: { mixing_ratio: '10 : 1', pot_life_min: 40, conditioning_h: 24 },
      amounts: [{ part: '', material: 'Epoxy', tested: true, words: 'a film, 110 mg', mass_mg: 110, problems: [] }],
    });
    const of = (key: string) => steps.find((s) => s.key === key);
    expect(of('prepare')?.what).toContain('For 110 mg: 100 mg of A and 10 mg of B.');
    expect(of('prepare')?.record).toEqual(['lot', 'part_a_mg', 'part_b_mg']);
    expect(of('apply')?.what[0]).toMatch(/^Rub a trace/);
    expect(steps.map((s) => s.key).indexOf('cure')).toBeLessThan(steps.map((s) => s.key).indexOf('first_start'));
  });
  it('off its ratio or started early is told, a near miss is not', () => {
    const told = (b: number, started: string) =>
      mountFindings({
        states: {
          prepare: { records: { part_a_mg: 100, part_b_mg: b } },
          place: { done_at: '2026-06-01T10:00:00Z' },
          first_start: { done_at: started },
        },
        ...{ steps: [], stops: [], neighbours: [], torque_max_nm: null, cycles: null, pot_life_min: null },
        ...{ mixing_ratio: '10 : 1', cure_h: 24 },
      }).map((f) => f.code);
    expect(told(10.5, '2026-06-02T10:00:00Z')).toEqual([]);
    expect(told(10.6, '2026-06-02T10:00:00Z')).toEqual(['ratio_off']);
    expect(told(9.5, '2026-06-02T09:59:00Z')).toEqual(['not_cured']);
  });
});

describe('hold-down and sheets that serve again', () => {
  it('close a clip without a torque, and lay a sheet back without cutting anew', () => {
    const setting = { kind: 'graphite' as const, part: 'lid' as const, masked_neighbours: '', run_min: 30, sheet: { reusable: true } };
    const of = (key: string, more: object) => mountSteps({ ...setting, ...more }).find((s) => s.key === key);
    expect(of('tighten', { hold: 'clip' })?.record).toEqual(['hold_down', 'note']);
    expect(of('tighten', { hold: 'screws' })?.record).toContain('torque_nm');
    expect(of('prepare', { number: 1 })?.what[0]).toMatch(/^Cut to the part/);
    expect(of('prepare', { number: 2 })?.what[0]).toMatch(/^The same piece/);
    expect(of('place', {})?.what[0]).toMatch(/it can be used again/);
    expect(of('place', { sheet: {} })?.what[0]).toMatch(/clean and apply again/);
  });
});
