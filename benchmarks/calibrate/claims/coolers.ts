import { analyse } from '#core/compare/analyse';
import { factorialEffects } from '#core/compare/factorial';
import { crossings } from '#core/thermal/coolers/crossings';
import { fitSweep } from '#core/thermal/coolers/sweep';
import { HERON, type PlantedCooler, plantedCross, riseOf, SLUICE, speedAt, sweep, valuesAt } from '../../../tests/plantedSweeps';
import { type Case, type Claim, HOLDS, NOTHING, said, within } from './types';

const subject = 'coolers' as const;
const SCATTER = { mounts: 3, mount_sd: 0.3, run_sd: 0.15, level_sd: 0.4 };
const EACH = { ...SCATTER, meter_sd: 0.6 };
const apart = (level: number) => riseOf(HERON, speedAt(HERON, level)) - riseOf(SLUICE, speedAt(SLUICE, level));

/** Difference of two coolers at a level, judged as a study judges it. */
function difference(scatter: typeof SCATTER, seed: number): Case {
  const shared_errors: Record<string, { se: number; df: number }> = {};
  const rows = [HERON, SLUICE].flatMap((c: PlantedCooler, i) => {
    const at = valuesAt(fitSweep(c.name, sweep(c, { ...scatter, seed: 2 * seed + i })), 31);
    if (at) shared_errors[c.name] = at.shared;
    return (at?.values ?? []).map((value, m) => ({ specimen: c.name, mount: String(m), value }));
  });
  if (Object.keys(shared_errors).length < 2) return NOTHING;
  const [pair] = analyse(rows, { scatter: 'pooled', chances: false, outlook: false, shared_errors }).pairs;
  return pair.ci ? said(within(pair.ci, (pair.a === HERON.name ? 1 : -1) * apart(31))) : NOTHING;
}

function crossing(scatter: typeof SCATTER, seed: number): Case {
  let [low, high] = [26, 39];
  for (let i = 0; i < 60; i++) {
    const middle = (low + high) / 2;
    if (apart(low) * apart(middle) > 0) low = middle;
    else high = middle;
  }
  const [a, b] = [HERON, SLUICE].map((c, i) => fitSweep(c.name, sweep(c, { ...scatter, seed: 2 * seed + i })));
  const [found] = crossings(a, b);
  return found?.ci ? said(within(found.ci, low)) : NOTHING;
}

/** Two heatsinks with two fans: three effects a study. */
function crossed(scatter: typeof EACH, seed: number): Case {
  const cross = plantedCross(33, scatter, seed);
  const effects = cross && factorialEffects(cross.cells, { confidence: 0.95, scatter: 'pooled' });
  if (!cross || !effects) return NOTHING;
  return { said: effects.length, held: effects.filter((e) => within(e.ci, cross.truth[e.kind])).length, declined: false };
}

export const COOLERS: Claim[] = [
  ['meter left where it was', { ...EACH, meter_sd: 0 }] as const,
  ['meter put up anew for each mount, 0.6 dB', EACH] as const,
].flatMap(([condition, scatter]): Claim[] => {
  const given = { subject, condition: `3 mounts each, ${condition}`, promised: HOLDS, cases: 600 };
  return [
    { ...given, claim: 'difference at equal noise: 95 % interval', clean: true, run: (seed) => difference(scatter, seed) },
    { ...given, claim: 'heatsink, fan and their interaction at equal noise: 95 % intervals', run: (seed) => crossed(scatter, seed) },
    { ...given, claim: 'where one overtakes the other: 95 % interval', run: (seed) => crossing({ ...scatter, mount_sd: 0.15 }, seed) },
  ];
});
