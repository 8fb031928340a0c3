/**
 * What must keep up with a finger: curves of coolers and the stack, each against one pass of plain least squares over the same readings.
 */

import { leastSquares } from '#core/stats/leastSquares';
import { seededRandom } from '#core/stats/random';
import { crossings } from '#core/thermal/coolers/crossings';
import { fitSweep } from '#core/thermal/coolers/sweep';
import { calibrateStack, solveStack } from '#core/thermal/stack/stack';
import { figureOf } from '#features/results/model/coolers/figures';
import { STARTING_STACK } from '#features/tools/model/stackStart';
import { triedChanges } from '#features/tools/model/stackWhatIf';

const ROUNDS = 21;
const COOLERS = 12;
const MOUNTS = 6;
const SPEEDS = [500, 700, 900, 1100, 1300, 1500, 1800];

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

const random = seededRandom(1);
const readings = Array.from({ length: COOLERS }, (_, c) =>
  Array.from({ length: MOUNTS }, (_, m) =>
    SPEEDS.map((rpm) => ({
      ...{ mount: String(m), rpm, level: 31 + c / 4 + 50 * Math.log10(rpm / 1200) + 0.4 * random.normal() },
      rise: 27 + c + 13 * (rpm / 1200) ** -0.7 + 0.3 * random.normal(),
    })),
  ).flat(),
);
const columns = readings.map((own) => [Float64Array.from(own, () => 1), Float64Array.from(own, (p) => Math.log(p.rpm))]);
const plain = time(() =>
  readings.map((own, i) =>
    leastSquares(
      columns[i],
      Float64Array.from(own, (p) => p.rise),
    ),
  ),
);
const sweeps = readings.map((own, i) => fitSweep(`C${i}`, own));
const facts = { sound: { floor_db: null, distance_m: null, at_m: null, target_db: null, weighting: 'A' as const } };

const said = (what: string, ms: number) =>
  console.log(
    `${what}\n  ${ms.toFixed(2)} ms, ${(ms / plain).toFixed(1)} × a straight line through each cooler (${plain.toFixed(2)} ms); target under 50 ms`,
  );
said(
  `Fit ${COOLERS} coolers of ${MOUNTS} mounts at ${SPEEDS.length} speeds`,
  time(() => readings.map((own, i) => fitSweep(`C${i}`, own))),
);
said(
  'Read them at one noise, as a slider asks',
  time(() => sweeps.map((s) => figureOf(s, { by: 'noise', at: 33 }, facts))),
);
said(
  'Find where they overtake each other',
  time(() => sweeps.map((a, i) => sweeps.slice(i + 1).map((b) => crossings(a, b)))),
);
said(
  'Solve a stack, try every change and fit it to a whole',
  time(() => {
    solveStack(STARTING_STACK);
    triedChanges(STARTING_STACK, { name: 'Tarn', k: 70, thickness_mm: 0.02 });
    calibrateStack(STARTING_STACK, 'sink', [{ k_per_w: 0.3, se: 0.002 }]);
  }),
);
