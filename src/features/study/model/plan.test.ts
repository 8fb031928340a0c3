import { describe, expect, it } from 'vitest';
import { OUTCOMES } from '#core/compare/outcomes';
import { drawOrder } from '#core/design/order';
import { rehearse } from '#core/design/rehearse';
import { check } from '#rules/validation';
import { benchClock, benchDates, dayStarts, dayWords } from './calendar';
import type { PlanContext, PlanRig, PlanSpecimen } from './context';
import { roughHours, studyCost } from './cost';
import { planFindings } from './findings';
import { loadMinutes, loadPower } from './loadFigures';
import { Load } from './loads';
import { PLAN_DEFAULTS } from './planDefaults';
import { planFields, planProblem } from './planFields';
import { mainOutcome, planReduction, wantsRise } from './reduction';
import { rehearsalOf, resolvePlan, worstResistance } from './resolve';
import { StudyPlan } from './studyPlan';

const specimen = (id: number, name: string, more: Partial<PlanSpecimen> = {}): PlanSpecimen => ({
  ...{
    id,
    name,
    kind: 'paste',
    position: id - 1,
    material: { id, name, sheet: {} },
    cooler: null,
    plan: {},
    made: 0,
    made_mounts: [],
    stock_left: null,
    cost: null,
    currency: null,
  },
  ...more,
});
const rig = (id: number, name: string, more: Partial<PlanRig> = {}): PlanRig => ({
  ...{ id, name, sheet: { throttle_limit_c: 92, power_w: 140 }, cooler: null, instruments: [], coupons_left: null },
  ...more,
});
const context = (more: Partial<PlanContext> = {}): PlanContext => ({
  specimens: [specimen(1, 'Loam White'), specimen(2, 'Alder Grey'), specimen(3, 'Bramble 5')],
  rigs: [rig(1, 'North bench'), rig(2, 'South bench')],
  history: [],
  today: '2026-06-01',
  ...more,
});
const base: StudyPlan = { reference_id: 1, rigs: [1] };
const codes = (plan: StudyPlan, given = context()) =>
  planFindings(resolvePlan({ ...base, ...plan }, given), null, given.today).map((f) => f.code);
const finding = (code: string, plan: StudyPlan, given = context()) => {
  const resolved = resolvePlan({ ...base, ...plan }, given);
  const drawn = resolved.order ? drawOrder(resolved.order, 1) : null;
  return planFindings(resolved, drawn?.mounts ?? null, given.today).find((f) => f.code === code);
};

describe('a plan resolved', () => {
  it('rests on stated defaults where there is no history, and says so', () => {
    const plan = resolvePlan(base, context({ specimens: [specimen(1, 'A'), specimen(2, 'B', { kind: 'liquid_metal' })] }));
    expect(plan.specimens.map((s) => [s.mount_sd, s.sd_basis])).toEqual([
      [0.5, 0],
      [1, 0],
    ]);
    expect(plan.comparison.mount_sd).toBeCloseTo(Math.sqrt((0.25 + 1) / 2), 12);
    expect(plan.comparison).toMatchObject({ run_sd: 0.15, specimens: 2, runs: 3, margin: 1, power: 0.8 });
    expect([plan.sd_basis, plan.run_basis]).toEqual([0, 0]);
  });

  it('takes the lab’s own scatter by kind, counts each kind’s mounts once, and leaves too short a history aside', () => {
    const history = [
      { kind: 'paste' as const, mount_sd: 0.3, run_sd: 0.1, mounts: 12, df: 9 },
      { kind: 'pad' as const, mount_sd: 0.1, run_sd: 0.9, mounts: 3, df: 1 },
    ];
    const plan = resolvePlan(
      base,
      context({ history, specimens: [specimen(1, 'A'), specimen(2, 'B'), specimen(3, 'C', { kind: 'pad' })] }),
    );
    expect(plan.specimens.map((s) => [s.mount_sd, s.sd_basis])).toEqual([
      [0.3, 12],
      [0.3, 12],
      [0.8, 0],
    ]);
    expect([plan.sd_basis, plan.run_basis, plan.comparison.run_sd]).toEqual([12, 12, 0.1]);
    const entered = resolvePlan({ ...base, mount_sd: 0.7, run_sd: 0 }, context({ history }));
    expect([entered.comparison.mount_sd, entered.comparison.run_sd, entered.sd_basis, entered.run_basis]).toEqual([0.7, 0, null, null]);
  });

  it('limits mounts by stock and coupons, those made included', () => {
    const permanent = { id: 3, name: 'Hearthbond', sheet: { permanent: true } };
    const specimens = [
      specimen(1, 'A'),
      specimen(2, 'B', { stock_left: 1, made: 2 }),
      specimen(3, 'C', { material: permanent, kind: 'epoxy', stock_left: 9 }),
    ];
    const plan = resolvePlan(base, context({ specimens, rigs: [rig(1, 'North bench', { coupons_left: 2 })] }));
    expect(plan.specimens.map((s) => [s.mounts, s.allowed, s.last])).toEqual([
      [5, null, false],
      [3, 3, false],
      [2, 2, true],
    ]);
    expect(plan.order?.specimens.map((s) => s.mounts)).toEqual([5, 3, 2]);
  });

  it('mounts a permanent bond without coupons once on each part, last, and says what more would take', () => {
    const permanent = { id: 3, name: 'Hearthbond', sheet: { permanent: true } };
    const specimens = [specimen(1, 'A'), specimen(2, 'B', { material: permanent, kind: 'epoxy' })];
    const two = { ...base, rigs: [1, 2] };
    const bare = context({ specimens, rigs: [rig(1, 'North bench'), rig(2, 'South bench')] });
    const plan = resolvePlan(two, bare);
    expect(plan.specimens.map((s) => [s.mounts, s.seals])).toEqual([
      [5, false],
      [2, true],
    ]);
    expect(plan.order?.specimens[1]).toMatchObject({ permanent: true, mounts: 2 });
    expect(finding('permanent_without_coupon', { rigs: [1, 2] }, bare)).toMatchObject({
      severity: 'reject',
      nearest: 'The schedule takes 2 mounts of it, last. For 5, give the rig 5 lid-and-base coupons on its sheet.',
    });
    // as many as there are parts are no finding; two bonds on one part are
    expect(finding('permanent_without_coupon', { rigs: [1, 2], mounts: 2 }, bare)).toBeUndefined();
    const bonds = [...specimens, specimen(3, 'C', { material: permanent, kind: 'epoxy' })];
    const one = context({ specimens: bonds, rigs: [rig(1, 'North bench')] });
    expect(finding('permanent_parts', { rigs: [1] }, one)?.message).toContain('B and C are permanent');
    expect(finding('permanent_parts', { rigs: [1] }, context({ specimens, rigs: [rig(1, 'North bench')] }))).toBeUndefined();
  });

  it('measures a state as it was found once on each device, first, and the state after on each device as often as planned', () => {
    const states = [specimen(1, 'As found', { kind: 'state' }), specimen(2, 'Renewed', { kind: 'state' })];
    const three = { ...base, design: 'before_after' as const, varies: 'state' as const, rigs: [1, 2, 3], mounts: 2 };
    const devices = context({ specimens: states, rigs: [rig(1, 'Ash'), rig(2, 'Birch'), rig(3, 'Cedar')] });
    const { order } = resolvePlan(three, devices);
    expect(order?.specimens).toMatchObject([
      { specimen: 'As found', mounts: 3, first: true },
      { specimen: 'Renewed', mounts: 6, first: false },
    ]);
    const drawn = order && drawOrder(order, 7)?.mounts;
    for (const device of ['Ash', 'Birch', 'Cedar'])
      expect(drawn?.filter((m) => m.rig === device).map((m) => m.specimen)).toEqual(['As found', 'Renewed', 'Renewed']);
    // said otherwise, it can be mounted again and takes its turns
    const again = context({ ...devices, specimens: [specimen(1, 'As found', { kind: 'state', plan: { fixed: false } }), states[1]] });
    expect(resolvePlan(three, again).order?.specimens[0]).toMatchObject({ mounts: 6, first: false });
  });

  it('takes a run’s minutes from the loads, and a wait from sheet or cycles', () => {
    const loads = [
      check(Load, {
        name: 'Burn',
        cycles: 2,
        steps: [
          { stage: 'load', minutes: 20, power_w: 130 },
          { stage: 'cool_down', minutes: 10 },
        ],
      }),
    ];
    const wick = specimen(2, 'Wick 60', { material: { id: 2, name: 'Wick 60', sheet: { conditioning_cycles: 3 } } });
    const plan = resolvePlan({ ...base, loads }, context({ specimens: [specimen(1, 'A', { plan: { wait_h: 2 } }), wick] }));
    expect(loadMinutes(loads[0])).toBe(60);
    expect(plan.order).toMatchObject({ run_min: 60, specimens: [{ wait_min: 120 }, { wait_min: 180 }] });
    expect(plan.load_w).toBe(130);
    expect(loadPower([])).toBeNull();
    expect(resolvePlan({ ...base, loads, run_min: 33 }, context()).order?.run_min).toBe(33);
  });

  it('is rehearsed as it is planned, through the shared core', () => {
    const plan = resolvePlan(
      { ...base, looks: [3, 9], failure_pct: 10, warmest_c: 28 },
      context({ specimens: [specimen(1, 'A', { plan: { rise_k: 44 } }), specimen(2, 'B')] }),
    );
    const rehearsal = rehearsalOf(plan);
    expect(rehearsal).toMatchObject({
      reference: 'A',
      looks: [0.6],
      failure: 0.1,
      limit_rise_k: 64,
      specimens: [{ rise_k: 44 }, { rise_k: 44, mounts: 5 }],
    });
    if (rehearsal) expect(rehearse(rehearsal, 5, 1).count).toBe(5);
    expect(rehearsalOf(resolvePlan({}, context()))).toBeNull();
  });
});

describe('findings of a plan', () => {
  it('ask for what is missing, with what would do', () => {
    expect(codes({ rigs: [] }, context({ specimens: [] }))).toEqual(['too_few_specimens', 'no_rig']);
    expect(finding('reference_missing', { reference_id: null })?.nearest).toBe('Choose Loam White, or another one.');
    expect(finding('reference_missing', { reference_id: 77 })?.message).toBe('The reference is not among the specimens of this study.');
    expect(codes({ mounts: 12 })).toEqual([]);
  });

  it('refuse a margin finer than the sensors, in kelvin also where a meter reads °F', () => {
    const coarse = rig(1, 'North bench', { sheet: { sensor_resolution_k: 1, throttle_limit_c: 92 } });
    expect(finding('margin_below_resolution', { margin_k: 0.5 }, context({ rigs: [coarse] }))).toMatchObject({
      severity: 'reject',
      nearest: 'A margin of 1 K or more.',
    });
    expect(codes({ margin_k: 1, mounts: 30 }, context({ rigs: [coarse] }))).not.toContain('margin_below_resolution');
    const meter = { id: 1, name: 'Room', sheet: { reads: 'temperature', unit: '°F', resolution: 0.9, calibrated_until: '2027-01-01' } };
    expect(
      finding('margin_below_resolution', { margin_k: 0.4 }, context({ rigs: [rig(1, 'N', { instruments: [meter] })] }))?.numbers
        ?.resolution_k,
    ).toBeCloseTo(0.5, 12);
  });

  it('count the extra mounts of a reference that brackets its days against the stock', () => {
    const short = context({ specimens: [specimen(1, 'A', { stock_left: 5 }), specimen(2, 'B')] });
    expect(finding('stock_short', { mounts: 5 }, short)).toBeUndefined();
    const told = finding('stock_short', { mounts: 5, bracket: true }, short);
    expect(told?.message).toMatch(/^A: the stock allows 5 mounts in this study; \d+ are planned, \d+ of them to open and close days\.$/);
    expect(
      finding('stock_short', { mounts: 8 }, context({ specimens: [specimen(1, 'A'), specimen(2, 'B', { stock_left: 6 })] })),
    ).toMatchObject({
      severity: 'reject',
      nearest: 'Buy for 2 more, or plan 6 mounts.',
    });
  });

  it('hold the load below the headroom of the worst, and name the highest that stays', () => {
    const hot = context({ specimens: [specimen(1, 'A', { plan: { k_per_w: 0.3 } }), specimen(2, 'B', { plan: { k_per_w: 0.5 } })] });
    const told = finding('load_above_headroom', { warmest_c: 30 }, hot);
    // (92 − 5 − 30) / 0.5 = 114 W
    expect(told).toMatchObject({ severity: 'reject', numbers: { highest_load_w: 114, limit_c: 92 } });
    expect(told?.nearest).toBe('A load of 114 W, or a room below 17 °C.');
    expect(codes({ warmest_c: 30, load_w: 114, mounts: 30 }, hot)).not.toContain('load_above_headroom');
    expect(worstResistance(resolvePlan({ ...base, worst_k_per_w: 0.2 }, hot))).toBe(0.2);
  });

  it('tell a day that is too short with its figure', () => {
    expect(finding('day_too_short', { day_hours: 2 })).toMatchObject({
      severity: 'reject',
      nearest: 'A day of 2.5 h, or 2 runs on each mount.',
    });
  });

  it('name what two specimens differ in besides the factor', () => {
    const heron = { id: 1, name: 'Heron', sheet: {} };
    const mixed = context({
      specimens: [
        specimen(1, 'A', { cooler: heron }),
        specimen(2, 'B'),
        specimen(3, 'C', { cooler: heron, plan: { differs: 'older firmware' } }),
      ],
    });
    const told = planFindings(resolvePlan({ ...base, mounts: 40 }, mixed), null, '2026-06-01').filter((f) => f.code === 'differs_besides');
    expect(told.map((f) => f.message.split(' besides')[0])).toEqual(['B and A differ in the cooler', 'C and A differ in older firmware']);
    expect(
      codes({ varies: 'cooler', mounts: 40 }, context({ specimens: [specimen(1, 'A', { cooler: heron }), specimen(2, 'B')] })),
    ).toContain('differs_besides');
  });

  it('refuse before and after on two units, and a 2 × 2 without its four', () => {
    const state = (id: number, unit: string) => specimen(id, `State ${id}`, { kind: 'state', plan: { unit } });
    const two: StudyPlan = { design: 'before_after', varies: 'state', mounts: 40 };
    expect(finding('unit_and_state_confounded', two, context({ specimens: [state(1, 'TM6-0041'), state(2, 'TM6-0117')] }))?.severity).toBe(
      'reject',
    );
    expect(codes(two, context({ specimens: [state(1, 'TM6-0041'), state(2, 'TM6-0041')] }))).toEqual([]);
    expect(codes(two)).toContain('not_before_after');
    const cell = (id: number, a: string, b: string) => specimen(id, `${a} ${b}`, { material: null, plan: { level_a: a, level_b: b } });
    const cells = [cell(1, 'Heron', 'Gale'), cell(2, 'Heron', 'Hush'), cell(3, 'Plover', 'Gale')];
    const square: StudyPlan = { design: 'two_by_two', varies: 'cooler', second_factor: 'fan', mounts: 40 };
    expect(finding('not_two_by_two', square, context({ specimens: cells }))?.nearest).toBe('Add Plover with Hush.');
    expect(codes(square, context({ specimens: [...cells, cell(4, 'Plover', 'Hush')] }))).toEqual([]);
    expect(codes({ ...square, second_factor: null }, context({ specimens: cells }))).toContain('second_factor_open');
  });

  it('bring the sheets’ findings with them', () => {
    const old = { id: 4, name: 'Room thermometer B', sheet: { reads: 'temperature', calibrated_until: '2026-02-20' } };
    const tarn = specimen(2, 'Tarn', { kind: 'liquid_metal', material: { id: 9, name: 'Tarn', sheet: { kind: 'liquid_metal' } } });
    const flat = { id: 3, name: 'Low Otter', sheet: { base_material: 'aluminium' as const } };
    const given = context({ specimens: [specimen(1, 'A'), tarn], rigs: [rig(1, 'North bench', { instruments: [old], cooler: flat })] });
    expect(codes({ mounts: 60 }, given)).toEqual(['aluminium_attacked', 'calibration_out']);
    expect(codes({ mounts: 60, fan_school: 'automatic', repeat_school: 'runs', ambient_school: 'absolute' })).toEqual([
      'fan_automatic',
      'runs_for_remounts',
      'absolute_temperature',
    ]);
  });

  it('say when the order no longer fits the plan', () => {
    const drawn = resolvePlan(base, context());
    const order = drawn.order && drawOrder(drawn.order, 1);
    const later = resolvePlan({ ...base, mounts: 7, rigs: [1, 2] }, context());
    const told = planFindings(later, order?.mounts ?? [], '2026-06-01').find((f) => f.code === 'order_out_of_date');
    expect(told?.message).toBe(
      'The order was drawn before the plan changed: it has another number of mounts of Loam White, Alder Grey, Bramble 5 than planned and leaves South bench idle.',
    );
    expect(planFindings(drawn, order?.mounts ?? [], '2026-06-01').map((f) => f.code)).not.toContain('order_out_of_date');
  });
});

describe('bench days', () => {
  it('fall on working days, and their starts carry the days between', () => {
    const dates = benchDates('2026-06-05', [1, 2, 3, 4, 5], 3);
    expect(dates).toEqual(['2026-06-05', '2026-06-08', '2026-06-09']);
    expect(dayStarts(dates)).toEqual([0, 3 * 1440, 4 * 1440]);
    expect(benchDates('2026-06-06', [], 2)).toEqual(['2026-06-06', '2026-06-07']);
    expect(benchDates('2026-02-31', [1], 2)).toEqual([]);
    // the night in which clocks go forward does not move a bench day
    expect(dayStarts(benchDates('2026-03-27', [1, 5], 2))).toEqual([0, 3 * 1440]);
  });
  it('are told by the clock at the bench, over midnight too', () => {
    expect(benchClock('2026-06-05', '08:30', 95)).toEqual({ date: '2026-06-05', time: '10:05' });
    expect(benchClock('2026-06-30', '22:00', 150)).toEqual({ date: '2026-07-01', time: '00:30' });
    expect(dayWords('2026-06-05')).toBe('Fri 5 Jun 2026');
  });
});

describe('cost and loads', () => {
  it('adds up materials, consumables, tools and work in one currency, and names the rest', () => {
    const specimens = [
      specimen(1, 'A', { cost: 2, currency: 'EUR' }),
      specimen(2, 'B', { cost: 3, currency: 'EUR', stock_left: 2 }),
      specimen(3, 'C', { cost: 9, currency: 'CHF' }),
      specimen(4, 'D'),
    ];
    const plan = resolvePlan({ ...base, consumables: 0.5, tools: 10, hour_rate: 24, mount_min: 30 }, context({ specimens }));
    const cost = studyCost(plan, 4);
    // 14 mounts: B has stock for two
    expect(cost.lines.map((l) => l.amount)).toEqual([4 * 2 + 2 * 3, 7, 10, 14 * 0.5 * 24]);
    expect(cost).toMatchObject({ currency: 'EUR', total: 14 + 7 + 10 + 168, unpriced: ['D'], other_currency: ['C'], hands_h: 7 });
  });
  it('keeps apart what one state costs by itself', () => {
    const specimens = [specimen(1, 'As made', { cost: 1 }), specimen(2, 'Lapped', { cost: 1, plan: { tools: 40, effort_min: 90 } })];
    const cost = studyCost(resolvePlan({ ...base, hour_rate: 20, mount_min: 30, currency: 'EUR' }, context({ specimens })), 2);
    expect(cost.states.map((s) => [s.a_mount, s.once, s.total])).toEqual([
      [11, 0, 22],
      [11, 70, 92],
    ]);
    const leaf = specimen(3, 'Soot Leaf', { cost: 7.5, material: { id: 3, name: 'Soot Leaf', sheet: { reusable: true } } });
    expect(studyCost(resolvePlan(base, context({ specimens: [leaf] })), 6).lines).toEqual([{ what: 'Materials', amount: 7.5 }]);
    expect([cost.total, cost.hands_h]).toEqual([114, 3.5]);
  });
  it('guesses hours near those of the drawn order', () => {
    for (const rigs of [[1], [1, 2]]) {
      const plan = resolvePlan({ ...base, rigs, mounts: 6, day_hours: 10 }, context());
      const drawn = plan.order && drawOrder(plan.order, 3);
      expect(roughHours(plan, 6) / (drawn?.hours ?? 0)).toBeGreaterThan(0.7);
      expect(roughHours(plan, 6) / (drawn?.hours ?? 0)).toBeLessThan(1.3);
    }
  });
  it('judges a study whose loads are all ladders by the highest passing clock, and asks no rise of one', () => {
    const [ladder, heat] = [
      { name: 'Climb', steps: [], ladder: [{ clock_mhz: 2000 }], ladder_min: 5 },
      { name: 'Heat', steps: [] },
    ];
    expect(loadMinutes(ladder)).toBe(5);
    expect([mainOutcome({ loads: [ladder] }), wantsRise({ loads: [ladder] })]).toEqual(['highest_clock', false]);
    expect([mainOutcome({ loads: [ladder, heat] }), wantsRise({ loads: [ladder, heat] })]).toEqual(['rise', true]);
    expect(['Climb', 'Heat'].map((l) => planReduction({ loads: [ladder, heat] }, null, l).rise_wanted)).toEqual([false, true]);
  });
  it('keeps rules for every part of a plan, and defaults that keep them', () => {
    expect(() => check(StudyPlan, PLAN_DEFAULTS)).not.toThrow();
    expect(() => check(StudyPlan, { loads: [{ name: '', steps: [] }] })).toThrow('A load has a name of 1 to 60 characters.');
    expect(() => check(StudyPlan, { looks: [1] })).toThrow(/each 2 or more/);
    expect(() => check(StudyPlan, { start_on: '2026-02-31' })).toThrow('First day is a day of the calendar');
    expect(() => check(StudyPlan, { loads: [null] })).toThrow('Loads are a list of up to 12, each with a name and steps.');
    expect(() => check(StudyPlan, { weekdays: [0] })).toThrow(/1 for Monday/);
    expect(() => check(StudyPlan, { outcomes: [{ key: 'rise', margin: 0 }] })).toThrow(/above 0/);
    expect(() => check(StudyPlan, { start_time: '25:00' })).toThrow(/time such as/);
    for (const o of Object.values(OUTCOMES)) expect(o.margin).toBeGreaterThan(0);
  });
});

describe('the fields of a plan', () => {
  it('come as plain data that survives the way to a page', () => {
    const { plan, specimen } = planFields();
    expect(JSON.parse(JSON.stringify({ plan, specimen }))).toEqual({ plan, specimen });
    expect(plan.find((f) => f.key === 'margin_k')).toMatchObject({ kind: 'number', unit: 'K' });
  });
  it('tell what breaks their rule, of the plan and of a specimen', () => {
    expect(planProblem('mounts', 4)).toBeNull();
    expect(planProblem('mounts', 4.5)).toMatch(/a whole number between/);
    expect(planProblem('title', 7)).toMatch(/is a text/);
    const [first] = planFields().specimen;
    expect(planProblem(`specimen:7:${first.key}`, {})).not.toBeNull();
  });
});
