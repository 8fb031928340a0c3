import { createHash } from 'node:crypto';
import { deserialize, serialize } from 'node:v8';
import { buildId } from '#app/buildId';
import { database } from '#app/database/pool';
import { connectedTo } from '#core/ranking/connected';
import { grouped } from '#core/ranking/mountRows';
import type { StudyGiven } from '#features/ranking/model/given';
import type { RankingQuestion } from '#features/ranking/model/rankingAnswer';
import { type RankingChoice, type RankingEvidence, rankingEvidence } from '#features/ranking/model/rankingRows';
import type { SetupChoice } from '#features/ranking/model/setupChoice';
import { placesOf, type RankedSetup, setupsOf } from '#features/ranking/model/setups';
import { getKeptRanking, keepRanking } from '#features/ranking/store/keptRankings';
import { listStudyIds } from '#features/ranking/store/rankedMaterials';
import { listSetupChoices } from '#features/ranking/store/setupChoices';
import { studiesGiven } from './studyGiven';

/** All that a ranking rests on under a choice, before anything is fitted. */
export interface GatheredEvidence extends RankingEvidence {
  choice: RankingChoice;
  studies: StudyGiven[];
  setups: RankedSetup[];
  said: SetupChoice[];
  /** null where nothing is measured that can be ranked */
  question: RankingQuestion | null;
}

const DAY_S = 86_400;

/** What all studies say of their materials, as the choice looks at it. */
export async function gatherEvidence(choice: RankingChoice): Promise<GatheredEvidence> {
  const db = database();
  const [ids, said] = await Promise.all([listStudyIds(db), listSetupChoices(db)]);
  const known = await studiesGiven(ids);
  const studies = ids.flatMap((id) => known.get(id) ?? []);
  const setups = setupsOf(placesOf(studies), said);
  // by the day, so that an answer stays kept for as long
  const evidence = rankingEvidence(setups, choice, Math.ceil(Date.now() / 1000 / DAY_S) * DAY_S);
  const reference = referenceOf(evidence, studies, choice.reference);
  return { ...evidence, choice, studies, setups, said, question: reference === null ? null : { rows: evidence.rows, reference } };
}

/** The material asked for, else the one that connects most: in the most set-ups, of two the one that more studies compare with. */
function referenceOf({ rows, names }: RankingEvidence, studies: StudyGiven[], asked: string | null): string | null {
  if (rows.length === 0) return null;
  if (asked !== null && rows.some((r) => r.material === asked)) return asked;
  const compared = new Map<string, number>();
  for (const { reference } of studies) if (reference !== null) compared.set(reference, (compared.get(reference) ?? 0) + 1);
  const nameOf = new Map(names.map((n) => [n.key, n.name]));
  const setups = grouped(rows, (r) => r.material);
  const reach = (material: string): number => connectedTo(rows, material).length;
  return [...setups.entries()]
    .map(([material, own]) => ({ material, own: own.length, compared: compared.get(nameOf.get(material) ?? '') ?? 0 }))
    .sort((a, b) => b.own - a.own || b.compared - a.compared)
    .slice(0, 5)
    .reduce((best, m) => (reach(m.material) > reach(best.material) ? m : best)).material;
}

/** An answer to a question of the ranking: as it was kept, else computed and kept. */
export async function keptRanking<T>(task: string, asked: unknown, compute: () => Promise<T>): Promise<T> {
  const build = buildId();
  if (build === null) return compute();
  const key = `${build}/${task}/${createHash('sha256').update(serialize(asked)).digest('hex')}`;
  const kept = await getKeptRanking(database(), key);
  if (kept) return deserialize(kept);
  const answer = await compute();
  // what cannot be kept is computed again the next time
  await keepRanking(database(), key, serialize(answer)).catch(() => {});
  return answer;
}
