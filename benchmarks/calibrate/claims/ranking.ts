import { adjustedWithinSetups, setupsAgainstOthers } from '#core/ranking/againstOthers';
import { drawnPredictions } from '#core/ranking/drawnPrediction';
import { type RankedMount, rowsOfMounts } from '#core/ranking/mountRows';
import { againstReference, rankMaterials } from '#core/ranking/rankMaterials';
import { seededRandom } from '#core/stats/random';
import { CAREFUL, type Case, type Claim, NOTHING, within } from './types';

/** Scatter between mounts, mm²·K/W; a mean of five has the error 0.45 of it. */
const MOUNT_SD = 5;
const DRAWS = 2000;
/** Shown prediction intervals where set-ups differ, and where they do not. */
const SHOWN: [number, number] = [92, 97];
const SHOWN_ALIKE: [number, number] = [92, 100];
const NO_FALSE: [number, number] = [95, 100];

interface World {
  setups: number;
  /** how much a lead differs from set-up to set-up, mm²·K/W */
  tau: number;
  mounts: number;
  materials: number;
  /** every material in every set-up, or the reference and about half of the others */
  design: 'complete' | 'sparse';
  /** the true variance is given, or told by the mounts */
  scatter: 'known' | 'estimated';
}

/** Mounts of a planted truth, through their rows to a ranking; the truth of another set-up beside it. */
function planted(world: World, seed: number) {
  const random = seededRandom(seed);
  const truth = Array.from({ length: world.materials }, (_, m) => 12 * m * random.uniform());
  const mounts: RankedMount[] = [];
  for (let s = 0; s < world.setups; s++) {
    const level = 100 * random.uniform();
    const others = Array.from({ length: world.materials - 1 }, (_, i) => i + 1).filter(
      (m) => world.design === 'complete' || (m + s) % 2 === 0,
    );
    for (const m of [0, ...others]) {
      const here = level + truth[m] + world.tau * random.normal();
      for (let k = 0; k < world.mounts; k++) mounts.push({ setup: `S${s}`, material: `M${m}`, value: here + MOUNT_SD * random.normal() });
    }
  }
  const formed = rowsOfMounts(mounts, () => MOUNT_SD);
  const rows = world.scatter === 'known' ? formed.map((r) => ({ ...r, variance: MOUNT_SD ** 2 / r.mounts })) : formed;
  const ranking = rankMaterials(rows, 'M0');
  const lead = (material: string) => truth[Number(material.slice(1))] - truth[0];
  const another = (material: string) => lead(material) + Math.SQRT2 * world.tau * random.normal();
  return { rows, ranking, lead, another };
}

/** 95 % intervals of all leads. */
const intervals =
  (world: World): Claim['run'] =>
  (seed) => {
    const { ranking, lead } = planted(world, seed);
    const told = againstReference(ranking);
    return { said: told.length, held: told.filter((d) => within(d.ci95, lead(d.a))).length, declined: false };
  };

/** Prediction intervals of all leads, against a set-up that was not measured: those that are shown, or the plug-in ones beside them. */
const predictions =
  (world: World, which: 'shown' | 'plug-in'): Claim['run'] =>
  (seed): Case => {
    const { ranking, another } = planted(world, seed);
    const told = againstReference(ranking);
    const drawn =
      which === 'shown'
        ? drawnPredictions(
            ranking,
            told.map((d) => [d.a, d.b]),
            seed,
            DRAWS,
          )
        : told.map((d) => d.prediction95);
    const known = told.flatMap((d, i) => {
      const interval = drawn[i];
      return interval === null ? [] : [within(interval, another(d.a))];
    });
    return known.length === 0 ? NOTHING : { said: known.length, held: known.filter((h) => h).length, declined: false };
  };

/** Set-ups that are all of one kind: how often none of them is found to disagree. */
const agreements =
  (world: World): Claim['run'] =>
  (seed) => {
    const told = adjustedWithinSetups(setupsAgainstOthers(planted(world, seed).rows));
    const setups = [...new Set(told.map((t) => t.setup))];
    if (setups.length === 0) return NOTHING;
    return {
      said: setups.length,
      held: setups.filter((s) => told.every((t) => t.setup !== s || t.p_adjusted >= 0.05)).length,
      declined: false,
    };
  };

const words = (w: World) =>
  `${w.setups} set-ups of ${w.materials} materials, ${w.design}, ${w.mounts} mounts, scatter ${w.scatter}, τ ${w.tau === 0 ? '0' : `${(w.tau / MOUNT_SD).toFixed(1)} of it`}`;

const WORLDS: World[] = ([3, 5, 8] as const).flatMap((setups) =>
  (['complete', 'sparse'] as const).flatMap((design) =>
    (['known', 'estimated'] as const).flatMap((scatter) =>
      [0, 2.5].map((tau): World => ({ setups, tau, design, scatter, materials: 6, mounts: scatter === 'known' ? 4 : 5 })),
    ),
  ),
);
/** Four other set-ups with four materials, and more of both. */
const JUDGED: World[] = [
  [5, 4],
  [8, 6],
].flatMap(([setups, materials]) =>
  [0, 2.5].flatMap((tau) =>
    (['known', 'estimated'] as const).map((scatter): World => ({ setups, materials, tau, mounts: 5, design: 'complete', scatter })),
  ),
);

/** What the ranking over several set-ups says, through the values of mounts. */
export const RANKING: Claim[] = [
  ...WORLDS.map(
    (w): Claim => ({
      subject: 'ranking',
      claim: 'lead over all set-ups: 95 % interval',
      condition: words(w),
      promised: CAREFUL,
      cases: 400,
      run: intervals(w),
    }),
  ),
  ...WORLDS.flatMap((w): Claim[] => [
    {
      ...{ subject: 'ranking', claim: 'lead in another set-up: prediction interval as shown', condition: words(w), cases: 400 },
      ...{ promised: w.tau === 0 ? SHOWN_ALIKE : SHOWN, run: predictions(w, 'shown') },
    },
    {
      ...{ subject: 'ranking', claim: 'the same by the plug-in interval, which is not shown', condition: words(w), cases: 400 },
      ...{ promised: [80, 100], run: predictions(w, 'plug-in') },
    },
  ]),
  ...JUDGED.map(
    (w): Claim => ({
      ...{
        subject: 'ranking',
        claim: 'nothing is odd: a set-up agrees with the others',
        condition: words(w),
        promised: NO_FALSE,
        cases: 400,
      },
      run: agreements(w),
    }),
  ),
];
