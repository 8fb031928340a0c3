import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { moveMount, replaceMount } from './changeOrder';
import { drawOrder } from './order';
import { dayTooShort, isWholeDay, orderFindings, outOfPlace } from './orderFindings';
import type { OrderPlan, OrderSpecimen, TimedMount } from './orderTypes';
import { benchHours, dayStart, timeOrder } from './timeline';

const specimens = (count: number, mounts: number, special: Record<string, Partial<OrderSpecimen>> = {}): OrderSpecimen[] =>
  Array.from({ length: count }, (_, i) => ({ specimen: `S${i + 1}`, mounts, wait_min: 0, last: false, ...special[`S${i + 1}`] }));
const plan = (given: Partial<OrderPlan>): OrderPlan => ({
  ...{
    specimens: specimens(4, 3),
    reference: 'S1',
    runs: 1,
    mount_min: 25,
    run_min: 40,
    day_min: 480,
    rigs: ['North'],
    day_starts_min: [],
    days: null,
  },
  ...given,
});
/** The finding of days that hold no complete block, by the length of the day. */
const unbalanced = (day_min: number, bracket = false) => {
  const p = plan({ specimens: specimens(3, 2), runs: 1, mount_min: 20, run_min: 40, day_min, bracket });
  const alone = { ...p, specimens: specimens(3, 2) };
  const order = drawn(alone);
  const broken = order.mounts.map((m, i) => ({ ...m, day: i < 2 ? 1 : 2 }));
  return orderFindings(alone, broken).find((f) => f.code === 'day_unbalanced')?.message ?? '';
};
const drawn = (p: OrderPlan, seed = 1) => {
  const order = drawOrder(p, seed);
  if (!order) throw new Error('no order');
  return order;
};

/** A plan of any sort: some specimens with waits, late ones, short stock; one to three rigs. */
const anyPlan = fc
  .record({
    count: fc.integer({ min: 2, max: 9 }),
    mounts: fc.integer({ min: 1, max: 6 }),
    runs: fc.integer({ min: 1, max: 3 }),
    day: fc.integer({ min: 120, max: 720 }),
    rigs: fc.integer({ min: 1, max: 3 }),
    late: fc.array(fc.integer({ min: 2, max: 9 }), { maxLength: 2 }),
    waits: fc.array(fc.record({ at: fc.integer({ min: 1, max: 9 }), minutes: fc.integer({ min: 10, max: 2000 }) }), { maxLength: 2 }),
    short: fc.option(fc.record({ at: fc.integer({ min: 1, max: 9 }), mounts: fc.integer({ min: 1, max: 6 }) })),
    bracket: fc.boolean(),
    seed: fc.nat(),
  })
  .map(({ count, mounts, runs, day, rigs, late, waits, short, bracket, seed }) => {
    const list = specimens(count, mounts);
    for (const l of late) if (l <= count) list[l - 1].last = true;
    for (const w of waits) if (w.at <= count) list[w.at - 1].wait_min = w.minutes;
    if (short && short.at <= count) list[short.at - 1].mounts = Math.min(mounts, short.mounts);
    return { plan: plan({ specimens: list, bracket, runs, day_min: day, rigs: ['North', 'South', 'West'].slice(0, rigs) }), seed };
  });

/** What must never happen, looked for without the code under test. */
function broken(p: OrderPlan, mounts: TimedMount[]): string[] {
  const faults: string[] = [];
  const wanted = new Map(p.specimens.map((s) => [s.specimen, s.mounts]));
  for (const [name, count] of wanted) {
    const got = mounts.filter((m) => m.specimen === name && !m.extra).length;
    if (got !== count) faults.push(`${name}: ${got} mounts instead of ${count}`);
  }
  if (mounts.some((m) => m.extra && m.specimen !== p.reference)) faults.push('an extra mount of another than the reference');
  const hands = [...mounts].sort((a, b) => a.start_min - b.start_min);
  hands.forEach((m, i) => {
    if (i > 0 && m.start_min < hands[i - 1].hands_end_min - 1e-9) faults.push('one tester at two mounts');
    const end = dayStart(p, m.day) + p.day_min;
    if (m.start_min < dayStart(p, m.day) || m.hands_end_min > end) faults.push(`${m.specimen} ${m.mount} is mounted out of hours`);
    if (m.runs_start_min < dayStart(p, m.runs_day) || m.end_min > dayStart(p, m.runs_day) + p.day_min)
      faults.push(`${m.specimen} ${m.mount} runs out of hours`);
    const wait = p.specimens.find((s) => s.specimen === m.specimen)?.wait_min ?? 0;
    if (m.runs_start_min < m.hands_end_min + wait) faults.push(`${m.specimen} ${m.mount} does not wait`);
    if (wait === 0 && m.runs_start_min !== m.hands_end_min) faults.push(`${m.specimen} ${m.mount} waits for nothing`);
  });
  for (const rig of p.rigs) {
    const own = hands.filter((m) => m.rig === rig);
    own.forEach((m, i) => {
      if (i > 0 && m.start_min < own[i - 1].end_min) faults.push(`${rig} holds two mounts at once`);
    });
    for (const day of new Set(own.map((m) => m.day))) {
      const today = own.filter((m) => m.day === day);
      const late = today.findIndex((m) => !m.extra && p.specimens.find((s) => s.specimen === m.specimen)?.last);
      if (late >= 0 && today.slice(late).some((m) => !m.extra && !p.specimens.find((s) => s.specimen === m.specimen)?.last))
        faults.push(`${rig} day ${day}: after a late one`);
    }
  }
  return faults;
}

describe('an order of mounts', () => {
  it('over 200 random plans breaks no constraint, and each day is balanced or the plan says why not', () => {
    fc.assert(
      fc.property(anyPlan, ({ plan: p, seed }) => {
        const order = drawOrder(p, seed);
        if (order === null) {
          expect(dayTooShort(p)?.nearest).toBeTruthy();
          return;
        }
        expect(broken(p, order.mounts)).toEqual([]);
        const days = new Map<string, TimedMount[]>();
        for (const m of order.mounts) days.set(`${m.rig} ${m.day}`, [...(days.get(`${m.rig} ${m.day}`) ?? []), m]);
        const unbalanced = [...days.values()].some((d) => !isWholeDay(p, d));
        const said = orderFindings(p, order.mounts).find((f) => f.code === 'day_unbalanced');
        expect(Boolean(said)).toBe(unbalanced);
        if (said) expect(said.message).toMatch(/complete block: (with the reference at both ends|a block takes|S)/);
        const unclosed =
          p.bracket && [...days.values()].some((d) => isWholeDay(p, d) && [d[0], d.at(-1)].some((m) => m?.specimen !== p.reference));
        const place = orderFindings(p, order.mounts).find((f) => f.code === 'reference_place');
        expect(Boolean(place)).toBe(Boolean(unclosed));
        if (place) expect(place.message).toMatch(/block takes/);
      }),
      { numRuns: 200 },
    );
  });

  it('is the same for a seed, another for another, and random within its block', () => {
    const p = plan({ specimens: specimens(6, 4) });
    expect(drawn(p, 9)).toEqual(drawn(p, 9));
    expect(drawn(p, 9).mounts).not.toEqual(drawn(p, 10).mounts);
    const seconds = new Set(Array.from({ length: 60 }, (_, seed) => drawn(p, seed).mounts[1].specimen));
    expect([...seconds].sort()).toEqual(['S1', 'S2', 'S3', 'S4', 'S5', 'S6']);
  });

  it('gives the reference every place of its block alike, so that it is not one with an hour of the day', () => {
    const p = plan({ specimens: specimens(4, 2), day_min: 300 });
    const places = [0, 0, 0, 0];
    for (let seed = 0; seed < 400; seed++) {
      const { mounts } = drawn(p, seed);
      for (const day of [1, 2]) places[mounts.filter((m) => m.day === day).findIndex((m) => m.specimen === 'S1')]++;
      expect(mounts.some((m) => m.extra)).toBe(false);
    }
    // 800 places over four: 200 each, chi-squared with 3 degrees of freedom below its 99.9 % point
    expect(places.reduce((sum, n) => sum + (n - 200) ** 2 / 200, 0)).toBeLessThan(16.27);
  });

  it('measures what cannot come back first and bonds for ever last, each on its own rig, whatever the seed', () => {
    const p = plan({
      specimens: specimens(4, 4, { S1: { first: true, mounts: 2 }, S4: { permanent: true, mounts: 2, last: true } }),
      rigs: ['North', 'South'],
    });
    for (let seed = 0; seed < 50; seed++) {
      const { mounts } = drawn(p, seed);
      for (const rig of p.rigs) {
        const own = mounts.filter((m) => m.rig === rig).map((m) => m.specimen);
        expect([own[0], own.at(-1), own.length]).toEqual(['S1', 'S4', 6]);
      }
      expect(orderFindings(p, mounts).map((f) => f.code)).toEqual([]);
    }
    const { mounts } = drawn(p);
    const isOn = (rig: string, specimen: string) => (m: TimedMount) => m.rig === rig && m.specimen === specimen;
    const early = [...mounts.filter(isOn('South', 'S4')), ...mounts.filter((m) => !isOn('South', 'S4')(m))].map((m) => ({ ...m, day: 1 }));
    const late = mounts.map((m) => (isOn('North', 'S1')(m) ? { ...m, day: 99 } : m));
    expect(outOfPlace(p, early).map((f) => f.code)).toEqual(['opened_early', 'permanent_early']);
    expect(outOfPlace(p, late)).toMatchObject([
      { code: 'opened_early', nearest: 'Measure S1 first, with all its runs.' },
      { code: 'permanent_early', nearest: 'Put S4 last in the study, or give the rig lid-and-base coupons.' },
    ]);
    // bracketing mounts nothing before the one nor behind the other
    const bracketed = drawn({ ...p, bracket: true, reference: 'S2' }).mounts;
    expect(outOfPlace(p, bracketed)).toEqual([]);
    expect(bracketed.some((m) => m.extra)).toBe(true);
  });

  it('opens and closes each day with extra mounts of the reference where the plan brackets its days', () => {
    const { mounts, days } = drawn(plan({ bracket: true }));
    expect(days).toBe(3);
    for (let day = 1; day <= 3; day++) {
      const today = mounts.filter((m) => m.day === day);
      expect([today[0].specimen, today.at(-1)?.specimen]).toEqual(['S1', 'S1']);
      expect(today.map((m) => m.slot)).toEqual([1, 2, 3, 4, 5, 6]);
    }
    expect(mounts.filter((m) => m.extra)).toHaveLength(6);
    expect(mounts.filter((m) => m.specimen === 'S1').map((m) => m.mount)).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9]);
  });

  it('fills a long day with several complete blocks', () => {
    const { mounts, days } = drawn(plan({ specimens: specimens(3, 4), day_min: 600 }));
    expect(days).toBe(2);
    const today = mounts.filter((m) => m.day === 1).map((m) => m.specimen);
    expect([today.slice(0, 3).sort(), today.slice(3, 6).sort()]).toEqual([
      ['S1', 'S2', 'S3'],
      ['S1', 'S2', 'S3'],
    ]);
  });

  it('lets an overnight cure run while nobody is there, and another rig go on meanwhile', () => {
    const p = plan({ specimens: specimens(3, 2, { S3: { wait_min: 1200, last: true } }), rigs: ['North', 'South'], day_min: 480 });
    const { mounts } = drawn(p);
    const cured = mounts.filter((m) => m.specimen === 'S3');
    for (const m of cured) expect(m.runs_day).toBeGreaterThan(m.day);
    const [first] = cured;
    expect(mounts.some((m) => m.rig !== first.rig && m.start_min < first.runs_start_min && m.end_min > first.hands_end_min)).toBe(true);
  });

  it('on two rigs with cures takes at most 1.15 times the best of all orders', () => {
    const cases = [
      plan({ specimens: specimens(4, 2, { S3: { wait_min: 90 } }), rigs: ['North', 'South'], day_min: 900 }),
      plan({
        specimens: specimens(4, 2, { S2: { wait_min: 150 }, S4: { wait_min: 60, last: true } }),
        rigs: ['North', 'South'],
        day_min: 900,
      }),
      plan({
        specimens: specimens(5, 2, { S2: { wait_min: 45 }, S5: { wait_min: 200 } }),
        rigs: ['North', 'South'],
        day_min: 1200,
        run_min: 30,
        mount_min: 35,
      }),
    ];
    for (const [i, p] of cases.entries()) {
      for (const seed of [1, 2, 3]) expect(drawn(p, seed).hours, `case ${i}`).toBeLessThanOrEqual(1.15 * bruteForce(p));
    }
  });

  it('says what does not fit, with the nearest plan', () => {
    expect(dayTooShort(plan({ runs: 3, day_min: 120 }))).toMatchObject({
      code: 'day_too_short',
      nearest: 'A day of 2.5 h, or 2 runs on each mount.',
    });
    expect(dayTooShort(plan({}))).toBeNull();
    const p = plan({ specimens: specimens(8, 5), runs: 3, days: 10 });
    const codes = orderFindings(p, drawn(p).mounts);
    expect(codes.map((f) => f.code)).toEqual(['day_unbalanced', 'too_many_days']);
    expect(codes[1].nearest).toBe('About 3 mounts each fit into 10 days.');
    const two = plan({ specimens: specimens(3, 4, { S3: { mounts: 1 } }), rigs: ['North', 'South'] });
    expect(orderFindings(two, drawn(two).mounts).map((f) => f.code)).toContain('rig_confounded');
  });
});

/** Hours of the best order on two rigs in one day: every order within the blocks, and every turn the tester may take between the rigs. */
function bruteForce(p: OrderPlan): number {
  const orders = permutations(p.specimens.filter((s) => !s.last)).flatMap((early) =>
    permutations(p.specimens.filter((s) => s.last)).map((late) => [...early, ...late]),
  );
  let best = Number.POSITIVE_INFINITY;
  for (const north of orders) {
    for (const south of orders) {
      const search = (i: number, j: number, tester: number, free: [number, number]) => {
        if (Math.max(tester, ...free) >= best) return;
        if (i === north.length && j === south.length) {
          best = Math.max(...free);
          return;
        }
        for (const rig of [0, 1] as const) {
          const next = rig === 0 ? north[i] : south[j];
          if (!next) continue;
          const handsEnd = Math.max(tester, free[rig]) + p.mount_min;
          const end = handsEnd + next.wait_min + p.runs * p.run_min;
          search(rig === 0 ? i + 1 : i, rig === 1 ? j + 1 : j, handsEnd, rig === 0 ? [end, free[1]] : [free[0], end]);
        }
      };
      search(0, 0, 0, [0, 0]);
    }
  }
  return best / 60;
}

function permutations<T>(items: T[]): T[][] {
  if (items.length < 2) return [items];
  return items.flatMap((item, i) => permutations([...items.slice(0, i), ...items.slice(i + 1)]).map((rest) => [item, ...rest]));
}

describe('changing an order', () => {
  const p = plan({ specimens: specimens(4, 3, { S4: { last: true } }) });
  const start = drawn(p).mounts;
  const done = start.map((m) => (m.day === 1 || (m.day === 2 && m.slot <= 2) ? { ...m, state: 'done' as const } : m));

  it('a failed mount moves nothing that is done, keeps the order of the rest, and comes as early as it may', () => {
    fc.assert(
      fc.property(fc.nat(start.length - 1), fc.constantFrom('failed' as const, 'lost' as const), (which, state) => {
        const lost = done[which];
        const after = replaceMount(p, done, lost, state);
        const kept = done.filter((m) => m !== lost);
        const untouched = after.filter((m) => m.state === 'done').map(({ specimen, mount, rig, day }) => ({ specimen, mount, rig, day }));
        expect(untouched).toEqual(
          kept.filter((m) => m.state === 'done').map(({ specimen, mount, rig, day }) => ({ specimen, mount, rig, day })),
        );
        const names = (list: { specimen: string; mount: number }[]) => list.map((m) => `${m.specimen}/${m.mount}`);
        const planned = after.filter((m) => m.state === 'planned');
        const fresh = planned.filter((m) => !names(kept).includes(`${m.specimen}/${m.mount}`));
        expect(fresh).toHaveLength(1);
        expect(fresh[0].specimen).toBe(lost.specimen);
        expect(names(planned.filter((m) => m !== fresh[0]))).toEqual(names(kept.filter((m) => m.state === 'planned')));
        expect(fresh[0].day).toBeLessThanOrEqual(3);
        const timed = timeOrder(p, after);
        expect(timed.every((m) => m.fits)).toBe(true);
        expect(orderFindings(p, timed).map((f) => f.code)).not.toContain('contaminating_early');
      }),
      { numRuns: 60 },
    );
  });

  it('a mount is moved within its day and to another; a done one stays', () => {
    const key = start.find((m) => m.day === 2 && m.slot === 2) as TimedMount;
    const later = moveMount(start, key, { rig: 'North', day: 2, before: 3 });
    expect(timeOrder(p, later).filter((m) => m.day === 2)[3]).toMatchObject({ specimen: key.specimen, mount: key.mount });
    const other = timeOrder(p, moveMount(start, key, { rig: 'North', day: 3, before: 0 }));
    expect(other.filter((m) => m.day === 3)[0]).toMatchObject({ specimen: key.specimen });
    const codes = orderFindings(p, other).map((f) => f.code);
    expect(codes).toContain('day_unbalanced');
    expect(moveMount(done, done[0], { rig: 'North', day: 3, before: 0 })).toBe(done);
    expect(moveMount(start, { specimen: 'S9', mount: 1 }, { rig: 'North', day: 3, before: 0 })).toBe(start);
  });

  it('a change that breaks a constraint is a finding', () => {
    const late = start.find((m) => m.day === 2 && m.specimen === 'S4') as TimedMount;
    const early = timeOrder(p, moveMount(start, late, { rig: 'North', day: 2, before: 0 }));
    expect(orderFindings(p, early).map((f) => f.code)).toEqual(['contaminating_early']);
    const full = start
      .filter((m) => m.day === 3)
      .reduce((list, m) => moveMount(list, m, { rig: 'North', day: 1, before: 9 }), start as ReturnType<typeof moveMount>);
    expect(orderFindings(p, timeOrder(p, full)).map((f) => f.code)).toContain('day_overfull');
  });

  it('hours count from the first thing done in a day to the last', () => {
    expect(benchHours(start)).toBeCloseTo((3 * 4 * 65) / 60, 10);
    expect(benchHours([])).toBe(0);
  });
});

describe('the length of a block', () => {
  it('counts the reference at both ends where days are bracketed', () => {
    // three specimens take 3 h, and the reference before and after them 2 h more
    expect(unbalanced(179)).toContain('a block takes 3 h on one rig');
    expect(unbalanced(181)).not.toContain('a block takes');
    expect(unbalanced(299, true)).toContain('with the reference at both ends a block takes 5 h on one rig');
    expect(unbalanced(301, true)).not.toContain('a block takes');
  });
});
