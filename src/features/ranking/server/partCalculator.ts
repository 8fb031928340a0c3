import { database } from '#app/database/pool';
import type { PartCalculator } from '#features/ranking/model/partCalculator';
import type { MeasuredRange } from '#features/ranking/model/readersPart';
import { getLabState } from '#features/ranking/store/keptRankings';
import { listSpecimens } from '#features/study/store/studies';
import { gatherEvidence, keptRanking } from './evidence';
import { rankingThreads } from './tasks';

/** With fewer set-ups nothing is said of a part that was not measured. */
const LEAST_SETUPS = 3;
/** Pairs grow with the square of the materials. */
const MOST_MATERIALS = 20;

/**
 * What the ranking of this lab says of a study's materials on another part; null where it says too little: fewer than three set-ups, or fewer
 * than two of the materials. Kept until something in the lab changes, so that a report reads no other study.
 */
export const partCalculator = async (studyId: number): Promise<PartCalculator | null> =>
  keptRanking('calculator', { studyId, state: await getLabState(database()) }, () => computed(studyId));

async function computed(studyId: number): Promise<PartCalculator | null> {
  const { question, names, setups, rows } = await gatherEvidence({ reference: null, lots: 'together', labs: 'own', years: null });
  if (!question) return null;
  const answer = await keptRanking('rank', question, () => rankingThreads.rank(question));
  if (answer.setups < LEAST_SETUPS || answer.tau === null) return null;
  const specimens = new Set((await listSpecimens(database(), studyId)).map((s) => s.name));
  const nameOf = new Map(names.map((n) => [n.key, n.name]));
  const own = answer.materials
    .map((m) => m.material)
    .filter((m) => specimens.has(nameOf.get(m) ?? ''))
    .slice(0, MOST_MATERIALS);
  if (own.length < 2) return null;
  const asked = own.flatMap((a, i) => own.slice(i + 1).map((b): [string, string] => [a, b]));
  const told = await rankingThreads.rankPairs({ question, pairs: asked });
  const named = (key: string) => nameOf.get(key) ?? key;
  const counted = new Set(rows.map((r) => r.setup));
  const measured = setups
    .filter((s) => s.lab === null && counted.has(s.key))
    .map(({ places: [p] }): MeasuredRange => ({ area_mm2: p.area_mm2, contact: p.contact, pressure: p.pressure }));
  return {
    materials: own.map(named),
    pairs: told.map(({ a, b, difference, ci95, shown95 }) => ({ a: named(a), b: named(b), difference, ci95, shown95 })),
    measured: [...new Map(measured.map((m) => [JSON.stringify(m), m])).values()],
    ...{ setups: answer.setups, mounts: answer.mounts },
  };
}
