import { type BetweenLabs, betweenLabs, type LabLead } from '#core/ranking/betweenLabs';
import { grouped, spread } from '#core/ranking/mountRows';
import type { RankingAnswer } from '#features/ranking/model/rankingAnswer';
import type { RankingChoice } from '#features/ranking/model/rankingRows';
import { gatherEvidence, keptRanking } from './evidence';
import { rankingThreads } from './tasks';

/** A material that two labs or more measured against the same reference. */
export interface SharedMaterial {
  key: string;
  name: string;
  told: BetweenLabs;
  /** over all set-ups of this lab alone, and of all labs together; null where it is in neither */
  own: { difference: number; ci95: [number, number] } | null;
  all: { difference: number; ci95: [number, number] } | null;
}

/** Labs beside each other. */
export interface LabsPlace {
  choice: RankingChoice;
  reference: { key: string; name: string } | null;
  materials: { key: string; name: string }[];
  labs: { name: string; setups: number; materials: number; mounts: number; has_reference: boolean }[];
  shared: SharedMaterial[];
  /** this lab's name in the tables */
  own_name: string;
}

const OWN = 'This lab';

/** Repeatability and reproducibility of every material that two labs or more measured, and the ranking with and without other labs. */
export async function labsPlace(choice: RankingChoice): Promise<LabsPlace> {
  // a lot of one lab is seldom one of another: by material
  const gathered = await gatherEvidence({ ...choice, labs: 'all', lots: 'together' });
  const { question, names, rows, mounts, setups } = gathered;
  const labOf = new Map(setups.map((s) => [s.key, s.lab === null ? OWN : s.lab || 'Another lab']));
  const reference = question?.reference ?? null;
  const rank = (own: typeof rows) =>
    reference !== null && own.some((r) => r.material === reference)
      ? keptRanking('rank', { rows: own, reference }, () => rankingThreads.rank({ rows: own, reference }))
      : Promise.resolve(null);
  const byLab = grouped(rows, (r) => labOf.get(r.setup) ?? OWN);
  const answers = new Map<string, RankingAnswer | null>();
  for (const [lab, own] of byLab) answers.set(lab, await rank(own));
  const all = byLab.size > 1 ? await rank(rows) : null;
  const shared = names.flatMap((n): SharedMaterial[] => {
    if (n.key === reference || byLab.size < 2) return [];
    const leads = [...answers].flatMap(([lab, answer]): LabLead[] => {
      const told = answer?.materials.find((m) => m.material === n.key);
      if (!told || !(told.se > 0)) return [];
      const own = mounts.filter((m) => m.material === n.key && labOf.get(m.setup) === lab);
      const groups = [...grouped(own, (m) => m.setup).values()].map((g) => spread(g.map((m) => m.value)));
      const [squares, df] = groups.reduce(([s, d], g) => [s + g.squares, d + g.df], [0, 0]);
      return [{ lab, lead: told.difference, se: told.se, mounts: own.length, squares, df }];
    });
    if (leads.length < 2) return [];
    const of = (answer: RankingAnswer | null | undefined) => {
      const told = answer?.materials.find((m) => m.material === n.key);
      return told ? { difference: told.difference, ci95: told.ci95 } : null;
    };
    return [{ key: n.key, name: n.name, told: betweenLabs(leads), own: of(answers.get(OWN)), all: of(all) }];
  });
  return {
    ...{ choice, shared, own_name: OWN, materials: names.map(({ key, name }) => ({ key, name })) },
    reference: reference === null ? null : { key: reference, name: names.find((n) => n.key === reference)?.name ?? reference },
    labs: [...byLab].map(([name, own]) => ({
      ...{ name, setups: new Set(own.map((r) => r.setup)).size, materials: new Set(own.map((r) => r.material)).size },
      ...{ mounts: own.reduce((sum, r) => sum + r.mounts, 0), has_reference: own.some((r) => r.material === reference) },
    })),
  };
}
