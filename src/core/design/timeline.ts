import type { OrderPlan, Placement, PlannedMount, TimedMount } from './orderTypes';

const NIGHT_TO_NIGHT = 24 * 60;
/** Days looked ahead for a place where runs fit; a longer wait than this is a year of days. */
const LOOK_AHEAD = 400;

/** Start of a bench day (from 1) in minutes from the start of the first. */
export function dayStart(plan: Pick<OrderPlan, 'day_starts_min'>, day: number): number {
  const known = plan.day_starts_min;
  if (day <= known.length) return known[day - 1];
  const last = known.length === 0 ? -NIGHT_TO_NIGHT : known[known.length - 1];
  return last + (day - known.length) * NIGHT_TO_NIGHT;
}

/** When one tester and several rigs are free as mounts are placed one after the other. */
export interface BenchState {
  tester_free: number;
  rig_free: Map<string, number>;
}

export const freshBench = (): BenchState => ({ tester_free: 0, rig_free: new Map() });

/** Earliest time a mount can be begun on its rig and day. */
export const earliestStart = (plan: OrderPlan, state: BenchState, rig: string, day: number): number =>
  Math.max(dayStart(plan, day), state.tester_free, state.rig_free.get(rig) ?? 0);

/** Times of a mount begun as early as its day allows: hands-on, then its wait, then its runs within the hours of one day. */
export function placeMount(plan: OrderPlan, state: BenchState, rig: string, day: number, waitMin: number): Placement {
  const start = earliestStart(plan, state, rig, day);
  const handsEnd = start + plan.mount_min;
  const ready = handsEnd + waitMin;
  const length = plan.runs * plan.run_min;
  let runsDay = day;
  let runsStart = ready;
  let fits = handsEnd <= dayStart(plan, day) + plan.day_min;
  // without a wait the runs follow at once; after one they begin in the first day that has room for them
  if (waitMin > 0 && length <= plan.day_min) {
    while (runsStart + length > dayStart(plan, runsDay) + plan.day_min && runsDay < day + LOOK_AHEAD) {
      runsDay++;
      runsStart = Math.max(ready, dayStart(plan, runsDay));
    }
  }
  if (runsStart + length > dayStart(plan, runsDay) + plan.day_min) fits = false;
  return { start_min: start, hands_end_min: handsEnd, runs_start_min: runsStart, end_min: runsStart + length, runs_day: runsDay, fits };
}

/** Books a placed mount. */
export function occupy(state: BenchState, rig: string, placed: Placement): void {
  state.tester_free = placed.hands_end_min;
  state.rig_free.set(rig, placed.end_min);
}

/**
 * Times of an order: each rig works off its own list; of the mounts that could be begun, the tester takes the earliest, so that a rig
 * that runs or cures is time for work on another. Failed and lost mounts keep their place in the record and take no time.
 */
export function timeOrder(plan: OrderPlan, mounts: PlannedMount[]): TimedMount[] {
  const waits = new Map(plan.specimens.map((s) => [s.specimen, s.wait_min]));
  const queues = plan.rigs.map((rig) => ({
    rig,
    list: byDay(mounts.filter((m) => m.rig === rig && (m.state === 'planned' || m.state === 'done'))),
    next: 0,
  }));
  const state = freshBench();
  const timed: TimedMount[] = [];
  for (;;) {
    const open = queues.filter((q) => q.next < q.list.length);
    if (open.length === 0) break;
    const starts = open.map((q) => earliestStart(plan, state, q.rig, q.list[q.next].day));
    const queue = open[starts.indexOf(Math.min(...starts))];
    const mount = queue.list[queue.next++];
    const placed = placeMount(plan, state, mount.rig, mount.day, waits.get(mount.specimen) ?? 0);
    occupy(state, mount.rig, placed);
    timed.push({ ...mount, slot: 0, ...placed });
  }
  timed.sort((a, b) => a.day - b.day || a.start_min - b.start_min);
  let slot = 0;
  timed.forEach((m, i) => {
    slot = i > 0 && timed[i - 1].day === m.day ? slot + 1 : 1;
    m.slot = slot;
  });
  return timed;
}

const byDay = (list: PlannedMount[]): PlannedMount[] =>
  list
    .map((m, i) => ({ m, i }))
    .sort((p, q) => p.m.day - q.m.day || p.i - q.i)
    .map((p) => p.m);

/** Bench hours: for each day, from the first thing done to the end of the last run. */
export function benchHours(timed: TimedMount[]): number {
  const spans = new Map<number, { from: number; to: number }>();
  const add = (day: number, from: number, to: number) => {
    const known = spans.get(day);
    spans.set(day, known ? { from: Math.min(known.from, from), to: Math.max(known.to, to) } : { from, to });
  };
  for (const m of timed) {
    if (m.runs_day === m.day) add(m.day, m.start_min, m.end_min);
    else {
      add(m.day, m.start_min, m.hands_end_min);
      add(m.runs_day, m.runs_start_min, m.end_min);
    }
  }
  return [...spans.values()].reduce((sum, s) => sum + s.to - s.from, 0) / 60;
}
