import { type Rehearsal, type RehearsalPlan, Rehearser } from '#core/design/rehearse';

/** Studies rehearsed between two reports of progress. */
const STEP = 20;
let cancelled = false;

/**
 * Rehearses a plan some thousand times through the comparison that will judge it.
 * @param progress told how many are done
 * @returns null where it was cancelled
 */
async function rehearse(plan: RehearsalPlan, count: number, seed: number, progress: (done: number) => void): Promise<Rehearsal | null> {
  cancelled = false;
  const rehearser = new Rehearser(plan, seed);
  for (let done = 0; done < count; done += STEP) {
    if (cancelled) return null;
    rehearser.step(Math.min(STEP, count - done));
    progress(Math.min(count, done + STEP));
    // a turn of the event loop, in which a cancellation can arrive
    await new Promise((next) => setTimeout(next));
  }
  return rehearser.result();
}

function cancel(): void {
  cancelled = true;
}

export const api = { rehearse, cancel };
export type RehearsalApi = typeof api;
