import { type Random, seededRandom } from '#core/stats/random';
import type { OrderPlan, OrderSpecimen, PlannedMount, TimedMount } from './orderTypes';
import { type BenchState, benchHours, dayStart, earliestStart, freshBench, occupy, placeMount, timeOrder } from './timeline';

interface DrawnOrder {
  mounts: TimedMount[];
  hours: number;
  /** bench days used */
  days: number;
  /** true where a complete block does not fit into a day, so that days are no blocks */
  spans: boolean;
}

/** Orders drawn of which one is taken. */
const DRAWS = 80;
/** An order within this of the shortest drawn is as good: the first such is taken, so that chance decides and not the clock alone. */
const SLACK = 1.03;

/**
 * Draws an order: every mount of a block, one of each specimen, on one rig and where it fits within one bench day; specimens shuffled
 * within the block, the reference among them; materials that contaminate late in their day. A state that cannot come back is first on its
 * rig, a permanent bond last. Where the plan asks for it, extra mounts of the reference open and close each day. Blocks go to the rigs in
 * turn, so that each rig sees each specimen alike. Of several random orders one of the shortest is taken.
 * @param seed the same seed gives the same order
 * @returns null where not even one mount fits into a day
 * @example drawOrder(plan, 60)?.mounts.filter((m) => m.day === 1)
 */
export function drawOrder(plan: OrderPlan, seed: number): DrawnOrder | null {
  if (plan.mount_min > plan.day_min || plan.runs * plan.run_min > plan.day_min) return null;
  if (plan.specimens.some((s) => s.wait_min === 0 && plan.mount_min + plan.runs * plan.run_min > plan.day_min)) return null;
  const random = seededRandom(seed);
  const drawn = Array.from({ length: DRAWS }, () => drawOnce(plan, random));
  const cost = (o: DrawnOrder) => o.hours + 1e3 * o.days;
  const fewest = Math.min(...drawn.map((o) => o.days));
  const best = Math.min(...drawn.filter((o) => o.days === fewest).map((o) => o.hours));
  const chosen = drawn.find((o) => o.days === fewest && o.hours <= best * SLACK);
  return chosen ?? drawn.reduce((a, b) => (cost(b) < cost(a) ? b : a));
}

/** A rig's work for a stretch of time: mounts in order. */
type Stretch = { specimen: OrderSpecimen; extra: boolean }[];

function drawOnce(plan: OrderPlan, random: Random): DrawnOrder {
  const rigs = plan.rigs.map((rig, r) => ({ rig, blocks: blocksOn(plan, r), list: [] as PlannedMount[] }));
  const state = freshBench();
  let spans = false;
  let day = 1;
  // a rig that is carried into later days by an unfinished block
  const carried = new Map<string, Stretch>();

  const put = (rig: { rig: string; list: PlannedMount[] }, item: Stretch[number], on: number) => {
    rig.list.push({ specimen: item.specimen.specimen, mount: 0, rig: rig.rig, day: on, extra: item.extra, state: 'planned' });
  };

  while (rigs.some((r) => r.blocks.length > 0 || (carried.get(r.rig)?.length ?? 0) > 0)) {
    const today = rigs.flatMap((rig) => {
      const rest = carried.get(rig.rig) ?? [];
      if (rest.length > 0) return [{ rig, stretch: rest, whole: false, taken: 0 }];
      if (rig.blocks.length === 0) return [];
      return [{ rig, ...fullestStretch(plan, rig.blocks, state, rig.rig, day, random) }];
    });
    // rigs share the tester: where a day together is too long for a rig, it takes a block less
    let outcome = tryDay(plan, state, day, today);
    while (outcome.overflow !== null) {
      const late = today[outcome.overflow];
      if (late.taken > 1)
        Object.assign(late, { stretch: stretchOf(late.rig.blocks.slice(0, late.taken - 1), plan, random), taken: late.taken - 1 });
      else late.whole = false;
      outcome = tryDay(plan, state, day, today);
    }
    for (const [i, { rig, stretch, whole, taken }] of today.entries()) {
      rig.blocks = rig.blocks.slice(taken);
      const fitting = outcome.placed[i];
      for (const item of stretch.slice(0, fitting)) put(rig, item, day);
      const rest = stretch.slice(fitting);
      // where the closing reference alone is left, the opening one of the next day stands for both
      if (rest.length === 1 && rest[0].extra && rig.blocks.length > 0) rest.pop();
      if (rest.length > 0 || !whole) spans = true;
      carried.set(rig.rig, rest);
    }
    Object.assign(state, outcome.state);
    day++;
    if (day > 5000) throw new Error('The order of mounts does not come to an end.');
  }
  const mounts = numberByTime(
    timeOrder(
      plan,
      rigs.flatMap((r) => r.list),
    ),
  );
  return { mounts, hours: benchHours(mounts), days: Math.max(0, ...mounts.map((m) => m.runs_day)), spans };
}

/** Blocks of one rig, each one mount of each specimen that still has one there: what cannot come back, then the rest, then what is permanent. */
function blocksOn(plan: OrderPlan, rig: number): OrderSpecimen[][] {
  // the mounts of a specimen go to the rigs in turn
  const count = (s: OrderSpecimen) => Math.ceil((s.mounts - rig) / plan.rigs.length);
  const phases = [
    plan.specimens.filter((s) => s.first),
    plan.specimens.filter((s) => !s.first && !s.permanent),
    plan.specimens.filter((s) => !s.first && s.permanent),
  ];
  return phases.flatMap((specimens) =>
    Array.from({ length: Math.max(0, ...specimens.map(count)) }, (_, b) => specimens.filter((s) => count(s) > b)),
  );
}

/** Mounts of a specimen are counted in the order they are made. */
function numberByTime(timed: TimedMount[]): TimedMount[] {
  const counts = new Map<string, number>();
  return timed.map((m) => {
    const mount = (counts.get(m.specimen) ?? 0) + 1;
    counts.set(m.specimen, mount);
    return { ...m, mount };
  });
}

/** As many complete blocks as fit into what is left of a rig's day; one, to be carried on, where none does. */
function fullestStretch(plan: OrderPlan, blocks: OrderSpecimen[][], state: BenchState, rig: string, day: number, random: Random) {
  let best: { stretch: Stretch; taken: number } | null = null;
  for (let taken = 1; taken <= blocks.length; taken++) {
    const stretch = stretchOf(blocks.slice(0, taken), plan, random);
    const { placed } = tryDay(plan, { tester_free: 0, rig_free: new Map(state.rig_free) }, day, [{ rig: { rig }, stretch, whole: false }]);
    if (placed[0] < stretch.length) break;
    best = { stretch, taken };
  }
  return best ? { ...best, whole: true } : { stretch: stretchOf(blocks.slice(0, 1), plan, random), taken: 1, whole: false };
}

/** Blocks in a row, each shuffled; what must come late stands at the end, what is permanent behind it; the reference around them on demand. */
function stretchOf(blocks: OrderSpecimen[][], plan: OrderPlan, random: Random): Stretch {
  const reference = plan.bracket ? plan.specimens.find((s) => s.specimen === plan.reference && !s.first && !s.permanent) : undefined;
  const isLate = (s: OrderSpecimen) => s.last && !s.first && s !== reference;
  const shuffled = (from: OrderSpecimen[][], which: (s: OrderSpecimen) => boolean | undefined) =>
    from.flatMap((block) => shuffle(block.filter(which), random));
  const first = shuffled(blocks, (s) => s.first);
  const early = shuffled(blocks, (s) => !s.first && !isLate(s) && !s.permanent);
  const late = shuffled([blocks.flat()], (s) => isLate(s) && !s.permanent);
  const permanent = shuffled(blocks, (s) => !s.first && s.permanent);
  const own = (specimens: OrderSpecimen[]) => specimens.map((specimen) => ({ specimen, extra: false }));
  // nothing is mounted on a part before the state that cannot come back, nor behind a permanent bond
  const extra = reference && early.length + late.length > 0 ? [{ specimen: reference, extra: true }] : [];
  return [...own(first), ...extra, ...own([...early, ...late]), ...extra, ...own(permanent)];
}

/**
 * Places the stretches of all rigs into one day, the tester taking what can be begun first.
 * @returns how many of each stretch fit, the bench afterwards, and the first rig whose whole stretch was to fit and does not
 */
function tryDay(plan: OrderPlan, before: BenchState, day: number, work: { rig: { rig: string }; stretch: Stretch; whole: boolean }[]) {
  const state: BenchState = { tester_free: before.tester_free, rig_free: new Map(before.rig_free) };
  const placed = work.map(() => 0);
  const shut = work.map(() => false);
  const end = dayStart(plan, day) + plan.day_min;
  for (;;) {
    let first = -1;
    let earliest = Number.POSITIVE_INFINITY;
    work.forEach((w, i) => {
      if (shut[i] || placed[i] >= w.stretch.length) return;
      const start = earliestStart(plan, state, w.rig.rig, day);
      if (start < earliest) {
        earliest = start;
        first = i;
      }
    });
    if (first < 0) break;
    const w = work[first];
    const fit = placeMount(plan, state, w.rig.rig, day, w.stretch[placed[first]].specimen.wait_min);
    const tonight = fit.fits && (!w.whole || fit.end_min <= end);
    if (tonight) {
      occupy(state, w.rig.rig, fit);
      placed[first]++;
    } else shut[first] = true;
  }
  const overflow = work.findIndex((w, i) => w.whole && placed[i] < w.stretch.length);
  return { placed, state, overflow: overflow < 0 ? null : overflow };
}

function shuffle<T>(items: T[], random: Random): T[] {
  const list = [...items];
  for (let i = list.length - 1; i > 0; i--) {
    const j = Math.floor(random.uniform() * (i + 1));
    [list[i], list[j]] = [list[j], list[i]];
  }
  return list;
}
