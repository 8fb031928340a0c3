import { database } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import type { AdjustedAgainstOthers } from '#core/ranking/againstOthers';
import { connectedTo } from '#core/ranking/connected';
import type { EvidenceRow, MaterialFacts, RailMaterial, ToldSetup } from '#features/ranking/model/placeTypes';
import type { RankingAnswer, ShownDifference } from '#features/ranking/model/rankingAnswer';
import type { RankedName, RankingChoice } from '#features/ranking/model/rankingRows';
import type { SetupChoice } from '#features/ranking/model/setupChoice';
import { type RankedSetup, setupWords } from '#features/ranking/model/setups';
import { getLabState } from '#features/ranking/store/keptRankings';
import { listSheetsOf } from '#features/ranking/store/rankedMaterials';
import type { MaterialSheet } from '#features/shelf/model/sheets';
import { stockOf } from '#features/shelf/model/stock';
import { type GatheredEvidence, gatherEvidence, keptRanking } from './evidence';
import { rankingThreads } from './tasks';

/** What the place shows: the ranking with names, its set-ups, and what is not in it. */
export interface RankingPlace {
  choice: RankingChoice;
  /** null where nothing is measured that can be ranked */
  answer: (Omit<RankingAnswer, 'materials'> & { materials: RailMaterial[]; names: Record<string, string> }) | null;
  rows: EvidenceRow[];
  setups: ToldSetup[];
  said: SetupChoice[];
  /** studies nothing of which is ranked, with why */
  not_ranked: { study_id: number; study: string; why: string }[];
  /** means that rest on a scatter that is usual of their kind, as nobody measured it */
  usual_scatter: number;
  several_lots: string[];
  /** labs that measured something, this one not among them */
  other_labs: string[];
}

const DAY_MS = 86_400_000;

/** The ranking under a choice, as its place shows it; kept until something in the lab changes, and where years are counted back for a day. */
export const rankingPlace = async (choice: RankingChoice): Promise<RankingPlace> =>
  keptRanking(
    'place',
    { choice, state: await getLabState(database()), day: choice.years === null ? 0 : Math.ceil(Date.now() / DAY_MS) },
    () => computedPlace(choice),
  );

async function computedPlace(choice: RankingChoice): Promise<RankingPlace> {
  const gathered = await gatherEvidence(choice);
  const { question, names, setups, rows, said, studies, several_lots, usual_scatter, mounts } = gathered;
  const answer = question && (await keptRanking('rank', question, () => rankingThreads.rank(question)));
  const ranked = new Set(answer?.materials.map((m) => m.material));
  const facts = await materialFacts(names);
  const nameOf = new Map(names.map((n) => [n.key, n.name]));
  const newest = new Map<string, number>();
  for (const m of mounts) if (m.at_s !== null) newest.set(m.material, Math.max(newest.get(m.material) ?? 0, m.at_s));
  return {
    ...{ choice, said, several_lots, usual_scatter: usual_scatter.filter((r) => ranked.has(r.material)).length },
    answer: answer && {
      ...answer,
      materials: answer.materials.map(
        (m): RailMaterial => ({
          ...m,
          ...(facts.get(m.material) as MaterialFacts),
          ...{ name: nameOf.get(m.material) ?? m.material, newest_s: newest.get(m.material) ?? null },
        }),
      ),
      names: Object.fromEntries(nameOf),
    },
    rows: rows.map(({ setup, material, mean, variance, mounts }) => ({ setup, material, mean, variance, mounts })),
    setups: setups.map((s) => toldSetup(s, ranked, gathered)),
    not_ranked: notRanked(gathered),
    other_labs: [...new Set(studies.flatMap((s) => (s.lab === null ? [] : [s.lab || 'another lab'])))].sort(),
  };
}

/** One difference of two materials under a choice. */
export async function rankedDifference(choice: RankingChoice, a: string, b: string): Promise<ShownDifference> {
  const { question } = await gatherEvidence(choice);
  const known = new Set(question?.rows.map((r) => r.material));
  if (!question || !known.has(a) || !known.has(b)) throw new Refusal('One of the two materials is not in the ranking.', 404);
  const connected = connectedTo(question.rows, question.reference);
  if (![a, b].every((m) => connected.some((r) => r.material === m)))
    throw new Refusal('No chain of set-ups connects the two: nothing can be said of their difference.', 409);
  const pairs: [string, string][] = [[a, b]];
  const [told] = await keptRanking('pairs', { question, pairs }, () => rankingThreads.rankPairs({ question, pairs }));
  return told;
}

/** Set-ups that are held against the others at a time. */
const HANDFUL = 8;

/** A handful of set-ups against all the others, and how many handfuls there are. */
export async function someAgainstOthers(choice: RankingChoice, part: number): Promise<{ told: AdjustedAgainstOthers[]; parts: number }> {
  const { question } = await gatherEvidence(choice);
  if (!question) return { told: [], parts: 0 };
  const all = [...new Set(connectedTo(question.rows, question.reference).map((r) => r.setup))];
  const setups = all.slice(part * HANDFUL, (part + 1) * HANDFUL);
  const told = await keptRanking('others', { question, setups }, () => rankingThreads.againstOthers({ question, setups }));
  return { told, parts: Math.ceil(all.length / HANDFUL) };
}

/** What the shelf says of the materials of a ranking. */
export async function materialFacts(names: RankedName[]): Promise<Map<string, MaterialFacts>> {
  const sheets = new Map(
    (await listSheetsOf(database(), [...new Set(names.flatMap((n) => n.material_id ?? []))])).map((s) => [s.id, s.sheet]),
  );
  return new Map(names.map((n) => [n.key, factsOf(n, n.material_id === null ? null : (sheets.get(n.material_id) ?? null))]));
}

const factsOf = ({ material_id, kind }: RankedName, sheet: MaterialSheet | null): MaterialFacts => ({
  ...{ material_id, kind, conducts: sheet?.conducts ?? null, permanent: sheet?.permanent ?? null },
  cost: sheet ? stockOf(sheet, 0).cost : null,
  ...{ currency: sheet?.currency ?? null, price_on: sheet?.price_on ?? null, claimed_w_per_mk: sheet?.conductivity_w_per_mk ?? null },
  bond_line_um: sheet?.bond_line_um ?? (sheet?.thickness_mm == null ? null : 1000 * sheet.thickness_mm),
});

function toldSetup(setup: RankedSetup, ranked: Set<string>, { rows, left_out }: Pick<GatheredEvidence, 'rows' | 'left_out'>): ToldSetup {
  const own = rows.filter((r) => r.setup === setup.key);
  const [first] = setup.places;
  const powers = setup.places.flatMap((p) => p.power_w ?? []);
  return {
    ...{ key: setup.key, name: setup.name, words: setupWords(setup), lab: setup.lab, is_said: setup.is_said },
    ...{ area_mm2: first.area_mm2, contact: first.contact, pressure: first.pressure, rig_id: first.rig_id, rig: first.rig },
    power_w: powers.length === 0 ? null : powers.reduce((sum, p) => sum + p, 0) / powers.length,
    ...{
      materials: own.length,
      mounts: own.reduce((sum, r) => sum + r.mounts, 0),
      counts: own.length > 1 && own.some((r) => ranked.has(r.material)),
    },
    left_out: left_out.flatMap(({ setup: of, ...left }) => (of === setup.key ? [left] : [])),
    places: setup.places.map((p) => ({ key: p.key, study_id: p.study_id, study: p.study, rig: p.rig, mounts: p.mounts.length })),
  };
}

function notRanked({ studies }: Pick<GatheredEvidence, 'studies'>): RankingPlace['not_ranked'] {
  return studies.flatMap((s) => {
    const why = s.not_ranked || (s.places.length === 0 ? 'it has no run yet' : '');
    return why === '' ? [] : [{ study_id: s.study_id, study: s.study, why }];
  });
}
