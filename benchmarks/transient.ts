/**
 * A step of 100,000 samples read into layers, and laid over another, as the page's worker does it; each against summing the samples'
 * exponentials once.
 */

import { plainStep } from '#core/signal/course/powerCourse';
import { seededRandom } from '#core/stats/random';
import { stepResponse } from '#core/thermal/transient/foster';
import { fosterChain } from '#core/thermal/transient/fosterFromLadder';
import { partingOf } from '#core/thermal/transient/parting';
import { structureOf } from '#core/thermal/transient/structure';
import type { StepRecord } from '#core/thermal/transient/types';

const SAMPLES = 100_000;
const BEFORE = 2_000;
const ROUNDS = 3;

/** Median time in ms, after one round to warm up. */
function time(work: () => unknown): number {
  work();
  const times = Array.from({ length: ROUNDS }, () => {
    const start = performance.now();
    work();
    return performance.now() - start;
  });
  return times.sort((a, b) => a - b)[(ROUNDS - 1) / 2];
}

function stepOf(interface_k_per_w: number, seed: number): StepRecord {
  const chain = fosterChain({ R: [0.05, interface_k_per_w, 0.05, 0.15], C: [6, 40, 150, 700] });
  const random = seededRandom(seed);
  const interval_s = 0.02;
  const t = Float64Array.from({ length: SAMPLES + BEFORE }, (_, i) => (i - BEFORE + 0.5) * interval_s);
  return {
    ...{ kind: 'heating', sensor: 'Die', power_w: 140, at_s: 0, interval_s, resolution_k: 0.1, findings: [], moment_sd_s: interval_s / 2 },
    ...{ errors: { scatter: 0.1, resolution: 0.1, hanging: 1 }, course: plainStep(interval_s) },
    ...{
      t,
      k_per_w: t.map(
        (x) => Math.round(((x > 0 ? 140 * stepResponse(chain, x - interval_s / 2) : 0) + 0.1 * random.normal()) * 10) / 10 / 140,
      ),
    },
  };
}

const first = stepOf(0.1, 1);
const second = stepOf(0.13, 2);
const plain = time(() => first.t.map((x) => [1, 3, 9, 140].reduce((sum, tau) => sum + Math.exp(-x / tau), 0)));
const read = time(() => structureOf(first));
const [a, b] = [structureOf(first).mount, structureOf(second).mount];
if (!a || !b) throw new Error('The steps of the bench tell no layers.');
const parted = time(() => partingOf(a, b));
const said = (what: string, ms: number) =>
  console.log(
    `${what}\n  ${ms.toFixed(0)} ms, ${(ms / plain).toFixed(0)} × one pass of its exponentials (${plain.toFixed(1)} ms); target under 5000 ms for both together`,
  );
said(`a step of ${SAMPLES} samples read into ${structureOf(first).structure?.layers.length} layers`, read);
said('two steps laid over each other', parted);
