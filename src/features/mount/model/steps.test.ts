import { describe, expect, it } from 'vitest';
import { hardStops, isAcknowledged, type MountSetting, mountSteps, type StopSetting } from './steps';
import type { MaterialKind, MountStep, PartKind } from './stepTypes';
import type { WorkKind } from './work';

const setting = (kind: MaterialKind, part: PartKind, sheet: MountSetting['sheet'] = {}): MountSetting => ({
  kind,
  part,
  sheet,
  masked_neighbours: '',
  run_min: 40,
});

/**
 * Every step of every material kind on every part kind. ! a caution that must be acknowledged, ~ a caution, @ a timer; the sheet says what
 * such a material's sheet usually says.
 */
const TABLE: Record<MaterialKind, { sheet: MountSetting['sheet']; lid: string; die: string; row: string }> = {
  paste: {
    sheet: {},
    lid: 'disconnect! clean~ inspect apply place tighten first_start',
    die: 'disconnect! clean~ inspect measure apply place tighten first_start',
    row: 'disconnect! clean~ inspect measure apply place tighten first_start',
  },
  pad: {
    sheet: {},
    lid: 'disconnect! clean~ inspect measure prepare apply place tighten first_start',
    die: 'disconnect! clean~ inspect measure prepare apply place tighten first_start',
    row: 'disconnect! clean~ inspect measure prepare apply place tighten first_start',
  },
  phase_change: {
    sheet: { conditioning_cycles: 4 },
    lid: 'disconnect! clean~ inspect measure prepare apply place tighten first_start condition@160',
    die: 'disconnect! clean~ inspect measure prepare apply place tighten first_start condition@160',
    row: 'disconnect! clean~ inspect measure prepare apply place tighten first_start condition@160',
  },
  liquid_metal: {
    sheet: {},
    lid: 'disconnect! clean~ inspect mask! prepare~ apply! place tighten first_start',
    die: 'disconnect! clean~ inspect measure mask! prepare~ apply! place tighten first_start',
    row: 'disconnect! clean~ inspect measure mask! prepare~ apply! place tighten first_start',
  },
  graphite: {
    sheet: { conducts: true },
    lid: 'disconnect! clean~ inspect mask~ prepare~ apply~ place tighten first_start',
    die: 'disconnect! clean~ inspect measure mask~ prepare~ apply~ place tighten first_start',
    row: 'disconnect! clean~ inspect measure mask~ prepare~ apply~ place tighten first_start',
  },
  putty: {
    sheet: {},
    lid: 'disconnect! clean~ inspect measure apply place tighten first_start',
    die: 'disconnect! clean~ inspect measure apply place tighten first_start',
    row: 'disconnect! clean~ inspect measure apply place tighten first_start',
  },
  epoxy: {
    sheet: { permanent: true, pot_life_min: 40, conditioning_h: 24, mixing_ratio: '1 : 1' },
    lid: 'disconnect! clean~ inspect prepare~@40 apply! place tighten cure@1440 first_start',
    die: 'disconnect! clean~ inspect measure prepare~@40 apply! place tighten cure@1440 first_start',
    row: 'disconnect! clean~ inspect measure prepare~@40 apply! place tighten cure@1440 first_start',
  },
  solder: {
    sheet: { permanent: true },
    lid: 'disconnect! clean~ inspect prepare~ apply! place tighten first_start',
    die: 'disconnect! clean~ inspect measure prepare~ apply! place tighten first_start',
    row: 'disconnect! clean~ inspect measure prepare~ apply! place tighten first_start',
  },
};

describe('the steps of a mount', () => {
  for (const [kind, { sheet, ...parts }] of Object.entries(TABLE) as [MaterialKind, (typeof TABLE)[MaterialKind]][]) {
    for (const [part, expected] of Object.entries(parts) as [PartKind, string][]) {
      it(`are named for ${kind} on a ${part}`, () => {
        const steps = mountSteps(setting(kind, part, sheet));
        const told = steps.map(
          (s) => `${s.key}${s.grave ? '!' : s.cautions.length > 0 ? '~' : ''}${s.timer_min === null ? '' : `@${s.timer_min}`}`,
        );
        expect(told.join(' ')).toBe(expected);
        for (const s of steps) {
          expect(s.what.length).toBeGreaterThan(0);
          if (s.grave) expect(s.cautions.length, s.key).toBeGreaterThan(0);
        }
      });
    }
  }

  it('say the caution where the harm would happen', () => {
    const of = (kind: MaterialKind, key: string, sheet = {}) =>
      mountSteps(setting(kind, 'lid', sheet))
        .find((s) => s.key === key)
        ?.cautions.join(' ') ?? '';
    expect(of('liquid_metal', 'mask')).toMatch(/mask neighbours/);
    expect(of('liquid_metal', 'prepare')).toMatch(/spurt/);
    expect(of('liquid_metal', 'apply')).toMatch(/destroys aluminium/);
    expect(of('graphite', 'prepare')).toMatch(/cut to size and insulate/);
    expect(of('epoxy', 'apply')).toMatch(/irritates skin and is permanent/);
    expect(of('solder', 'apply')).toMatch(/never use an oven that is used for food/);
    expect(of('paste', 'apply')).toBe('');
    expect(of('pad', 'mask', { conducts: true })).toMatch(/insulate neighbours/);
  });

  it('ask for the weighing where something is squeezed out, and for a lot of every material', () => {
    const record = (kind: MaterialKind) => mountSteps(setting(kind, 'lid')).find((s) => s.key === 'apply')?.record;
    expect(record('paste')).toEqual(['lot', 'mass_before_mg', 'mass_after_mg', 'pattern']);
    expect(record('pad')).toEqual(['lot', 'note']);
  });

  it('condition by the hours of the sheet, by its cycles, or by asking', () => {
    const condition = (kind: MaterialKind, sheet: MountSetting['sheet']) =>
      mountSteps(setting(kind, 'lid', sheet)).find((s) => s.key === 'condition');
    expect(condition('paste', {})).toBeUndefined();
    expect(condition('paste', { conditioning_h: 1.5 })?.timer_min).toBe(90);
    expect(condition('phase_change', { conditioning_cycles: 3 })).toMatchObject({ timer_min: 120, record: ['cycles'] });
    expect(condition('phase_change', {})).toMatchObject({ timer_min: null, record: ['cycles'] });
    // what bonds has cured before it is started
    expect(condition('epoxy', {})).toBeUndefined();
  });
});

describe('a grave caution', () => {
  const of = (kind: MaterialKind, work: WorkKind[] = []) => mountSteps({ ...setting(kind, 'die'), work });
  const step = (steps: MountStep[], key: string) => steps.find((s) => s.key === key) as MountStep;
  const mark = { acknowledged_at: '2026-06-02T09:30:00.000Z' };
  it('is asked for once, where it comes first', () => {
    const steps = of('liquid_metal', ['separating']);
    expect(isAcknowledged(step(steps, 'separate'), steps, {})).toBe(false);
    for (const key of ['separate', 'mask', 'apply']) expect(isAcknowledged(step(steps, key), steps, { separate: mark })).toBe(true);
    expect(isAcknowledged(step(steps, 'disconnect'), steps, { separate: mark })).toBe(false);
  });
  it('is asked for again where the later step says more', () => {
    const steps = of('liquid_metal');
    expect(isAcknowledged(step(steps, 'apply'), steps, { mask: mark })).toBe(false);
    expect(isAcknowledged(step(steps, 'mask'), steps, { apply: mark })).toBe(true);
  });
});

describe('hard stops', () => {
  const stop = (kind: MaterialKind, more: Partial<StopSetting>) =>
    hardStops({
      ...setting(kind, 'lid'),
      ...{
        material: 'X',
        contact_material: 'nickel',
        base_material: 'copper',
        contact: { length_mm: 37, width_mm: 37 },
        others_follow: true,
      },
      ...more,
    }).map((s) => s.code);

  it('stand for every material kind only where the harm is', () => {
    for (const kind of Object.keys(TABLE) as MaterialKind[]) {
      expect(stop(kind, {}), kind).toEqual([]);
      expect(stop(kind, { base_material: 'aluminium' }), kind).toEqual(kind === 'liquid_metal' ? ['aluminium_attacked'] : []);
    }
  });
  it('take the sheet’s word on aluminium, on both faces', () => {
    expect(stop('liquid_metal', { base_material: 'aluminium', contact_material: 'aluminium' })).toEqual([
      'aluminium_attacked',
      'aluminium_attacked',
    ]);
    expect(stop('liquid_metal', { base_material: 'aluminium', sheet: { aluminium_safe: true } })).toEqual([]);
    expect(stop('paste', { base_material: 'aluminium', sheet: { aluminium_safe: false } })).toEqual(['aluminium_attacked']);
  });
  it('hold a conducting sheet that reaches over bare neighbours', () => {
    const cut = { cut_length_mm: 40, cut_width_mm: 38 };
    expect(stop('graphite', { sheet: cut })).toEqual(['conducting_oversize']);
    expect(stop('graphite', { sheet: cut, masked_neighbours: 'capacitor row' })).toEqual([]);
    expect(stop('graphite', { sheet: { cut_length_mm: 36, cut_width_mm: 37 } })).toEqual([]);
    expect(stop('pad', { sheet: cut })).toEqual([]);
    expect(stop('pad', { sheet: { ...cut, conducts: true } })).toEqual(['conducting_oversize']);
    // turned by a quarter it lies within the part
    expect(stop('graphite', { sheet: { cut_length_mm: 30, cut_width_mm: 50 }, contact: { length_mm: 55, width_mm: 31 } })).toEqual([]);
  });
  it('hold a permanent bond while others are planned', () => {
    expect(stop('epoxy', { sheet: { permanent: true } })).toEqual(['permanent_early']);
    expect(stop('epoxy', { sheet: { permanent: true }, others_follow: false })).toEqual([]);
  });
});

describe('what the plan says of amount and masking', () => {
  const words = (key: string, given: Partial<Parameters<typeof mountSteps>[0]>) =>
    mountSteps({ ...{ kind: 'paste', part: 'lid', sheet: {}, masked_neighbours: '', run_min: 40 }, ...given } as Parameters<
      typeof mountSteps
    >[0])
      .find((s) => s.key === key)
      ?.what.join(' ');
  it('stands in the steps of a mount', () => {
    expect(words('apply', { amount: 'cross' })).toContain('As the plan says, a cross over the part');
    expect(words('apply', { amount: 'by_lid' })).toBe(words('apply', {}));
    // a film of liquid metal has no pattern
    expect(words('apply', { kind: 'liquid_metal', amount: 'cross' })).toBe(words('apply', { kind: 'liquid_metal' }));
    expect(words('mask', { kind: 'liquid_metal', masking: 'dam' })).toContain('Lay the dam around the part');
    expect(words('mask', { kind: 'liquid_metal', masking: 'none' })).toContain('The plan sets no masking');
    expect(words('mask', { kind: 'liquid_metal' })).toBe('Coat or tape every neighbour that could be reached; lay the dam.');
  });
});
