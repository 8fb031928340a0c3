import { seededRandom } from '#core/stats/random';
import { type SimulatedRig, SOUTH_BENCH } from '#simulator/rigs';
import type { DemoRun } from './demoStudy';

/** Study 8 of the demo: three hut cards before and after refurbishing, each under two loads. */

const AFTER_MOUNTS = 2;
/** What each card has of dust and dry filler, and what fresh filler gives it, K/W of its interface. */
const CARDS = [
  { rig: 'Hut card 0052', unit: 52, found: 0.112, renewed: 0.0535, dust: 0.018 },
  { rig: 'Hut card 0063', unit: 63, found: 0.098, renewed: 0.056, dust: 0.012 },
  { rig: 'Hut card 0071', unit: 71, found: 0.128, renewed: 0.0545, dust: 0.022 },
];
/** Loads of the study: the correlator at full rate, and the beacon that runs between observations. */
const LOADS = [
  { load: 'Correlate', file: 'correlate', load_w: 118, clock_mhz: 2100 },
  { load: 'Beacon', file: 'beacon', load_w: 74, clock_mhz: 1500 },
];

/** @param start seconds since 1970 of the first run */
export function threeCardsRuns(start: number): DemoRun[] {
  const random = seededRandom(83);
  return CARDS.flatMap((card, c) =>
    ['As found', 'Refurbished'].flatMap((specimen, state) =>
      Array.from({ length: state === 0 ? 1 : AFTER_MOUNTS }, (_, m) => {
        const resistance = (state === 0 ? card.found : card.renewed) + (0.4 * random.normal()) / LOADS[0].load_w;
        const mount = state === 0 ? c + 1 : c * AFTER_MOUNTS + m + 1;
        return LOADS.map(({ load, file, load_w, clock_mhz }, l): DemoRun => {
          const rig: SimulatedRig = {
            ...SOUTH_BENCH,
            ...{ load_w, clock_mhz },
            // dust in the fins goes with the state as found
            ladder: SOUTH_BENCH.ladder.map((n, i) => (i === 3 && state === 0 ? { ...n, resistance: n.resistance + card.dust } : n)),
          };
          return {
            ...{ specimen, mount, run: l + 1, file: `card${card.unit}_${state === 0 ? 'found' : `renewed${m + 1}`}_${file}.csv` },
            note: state === 0 && l === 0 ? 'As it came from the hut' : '',
            start: start + (3 * c + state + m) * 86_400 + l * 2400,
            ...{ rig, on: card.rig, load },
            simulated: {
              interface_k_per_w: resistance + (0.1 * random.normal()) / load_w,
              ...{ idle_s: 180, load_s: 1150, cooldown_s: 60, period_s: 5, warm_start_k: 0 },
              ...{
                room_c: 22.5 + 0.5 * random.normal(),
                room_drift_k_per_h: 0.1 * random.normal(),
                seed: 83_000 + 100 * c + 10 * (state + m) + l,
              },
            },
          };
        });
      }).flat(),
    ),
  );
}
