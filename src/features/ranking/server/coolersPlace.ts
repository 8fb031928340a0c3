import { database } from '#app/database/pool';
import { grouped } from '#core/ranking/mountRows';
import { type CoolerEvidence, type CoolerHeld, coolerRows, usualHeld } from '#features/ranking/model/coolerRows';
import type { RankingAnswer } from '#features/ranking/model/rankingAnswer';
import { listStudyIds } from '#features/ranking/store/rankedMaterials';
import { coolersGiven } from './coolersGiven';
import { keptRanking } from './evidence';
import { rankingThreads } from './tasks';

/** Coolers ranked at one noise or speed, K/W. */
export interface CoolerRanking extends Omit<CoolerEvidence, 'rows'> {
  held: CoolerHeld;
  labs: 'own' | 'all';
  /** coolers were measured by another lab */
  has_other_labs: boolean;
  answer: RankingAnswer | null;
}

/**
 * Coolers of all studies at a common noise or speed.
 * @param asked null: where most of them can be read
 * @returns null where no study has a sweep
 */
export async function rankedCoolers(asked: CoolerHeld | null, labs: 'own' | 'all', wanted: string | null): Promise<CoolerRanking | null> {
  const ids = await listStudyIds(database());
  const known = await coolersGiven(ids);
  const given = ids.flatMap((id) => known.get(id) ?? []).filter((g) => g.sweeps.length > 0);
  const counted = given.filter((g) => labs === 'all' || g.lab === null);
  const held = asked ?? usualHeld(counted.length > 0 ? counted : given);
  if (!held) return null;
  const { rows, ...evidence } = coolerRows(given, held, labs);
  const [first] = [...grouped(rows, (r) => r.material).entries()].sort((a, b) => b[1].length - a[1].length);
  const reference = wanted !== null && rows.some((r) => r.material === wanted) ? wanted : first?.[0];
  const question = reference === undefined ? null : { rows, reference };
  return {
    ...{ ...evidence, held, labs, has_other_labs: given.some((g) => g.lab !== null) },
    answer: question && (await keptRanking('rank', question, () => rankingThreads.rank(question))),
  };
}
