import os from 'node:os';
import { type BurnJob, DUTY_STEPS, type LoadMix, SHARED } from './types';

/** The load works and rests in turn, together for so long, ms: shorter than any part warms up in. */
const TURN_MS = 20;
/** A piece of work that took longer waited for the processor. */
const LOST_MS = 1;
/** A turn that others take the processor from is given up, ms; so much of what was lost is made up for. */
const LONGEST_TURN_MS = 100;
const MOST_BEHIND_MS = 200;
/** An agent that gave no sign for so long has been stopped or hangs: nobody watches the limit any more, ms. */
const SILENT_MS = 800;
/** The load gives way to whatever else runs, before all to who watches its limit. */
const NICE = 10;
/** So much of each is done between two looks at the clock. */
const A_PIECE = 2000;
/** Larger than any cache of its level, numbers of 8 bytes. */
const MEMORY = 4 * 1024 * 1024;

/** Runs in a worker thread: heats as much as it is told, until it is told to stop or nobody tells it anything. */
export function burn({ shared, mix, index }: BurnJob): void {
  const said = new Int32Array(shared);
  // Linux counts it for this thread alone
  os.setPriority(NICE);
  const work = WORK[mix === 'all' ? (['integer', 'float', 'memory'] as const)[index % 3] : mix]();
  let beat = Atomics.load(said, SHARED.beat);
  let heard = performance.now();
  let due = performance.now();
  while (Atomics.load(said, SHARED.stop) === 0) {
    const begin = performance.now();
    const now = Atomics.load(said, SHARED.beat);
    if (now !== beat) {
      beat = now;
      heard = begin;
    } else if (begin - heard > SILENT_MS) return;
    const busy_ms = (TURN_MS * Atomics.load(said, SHARED.duty)) / DUTY_STEPS;
    let at = begin;
    for (let did = 0; did < busy_ms && at - begin < LONGEST_TURN_MS; ) {
      work();
      const after = performance.now();
      // others had the processor meanwhile: what was not done is made up for
      if (after - at < LOST_MS) did += after - at;
      at = after;
    }
    due = Math.max(due + TURN_MS, at - MOST_BEHIND_MS);
    if (due > at) Atomics.wait(said, SHARED.stop, 0, due - at);
  }
}

/** Pieces of work by what they keep busy; each keeps its state, so that nothing of it can be left out. */
const WORK: Record<Exclude<LoadMix, 'all'>, () => () => void> = {
  integer: () => {
    let x = 0x9e3779b9 | 0;
    return () => {
      for (let i = 0; i < A_PIECE; i++) {
        x ^= x << 13;
        x ^= x >>> 17;
        x = Math.imul(x ^ (x << 5), 0x85ebca6b);
      }
    };
  },
  float: () => {
    const a = Float64Array.from({ length: 64 }, (_, i) => 1 + i / 64);
    const b = Float64Array.from({ length: 64 }, (_, i) => 1 - i / 128);
    return () => {
      for (let n = 0; n < A_PIECE / 64; n++) for (let i = 0; i < 64; i++) a[i] = a[i] * b[63 - i] * 0.9999 + 0.5 * b[i];
    };
  },
  memory: () => {
    const field = new Float64Array(MEMORY).fill(1);
    let at = 0;
    return () => {
      // a stride beyond a line of the cache
      for (let i = 0; i < A_PIECE; i++) {
        at = (at + 4099) % MEMORY;
        field[at] += 1;
      }
    };
  },
};
