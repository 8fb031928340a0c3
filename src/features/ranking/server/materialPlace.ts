import { Refusal } from '#app/refusal';
import type { AdjustedAgainstOthers } from '#core/ranking/againstOthers';
import { type Drift, driftOverYears } from '#core/ranking/drift';
import type { RailMaterial } from '#features/ranking/model/placeTypes';
import type { RankingChoice } from '#features/ranking/model/rankingRows';
import { gatherEvidence, keptRanking } from './evidence';
import { rankingPlace } from './rankingPlace';
import { rankingThreads } from './tasks';

/** A material's mount, lifted to where it would lie if all set-ups were one: what it says of drift and lots. */
export interface LiftedMount {
  mount_id: number;
  study_id: number;
  study: string;
  setup: string;
  lot: string;
  at_s: number | null;
  /** against the reference over all set-ups, mm²·K/W */
  value: number;
}

/** What is known of one material over all set-ups. */
export interface MaterialPlace {
  choice: RankingChoice;
  material: RailMaterial;
  reference: { key: string; name: string };
  names: Record<string, string>;
  tau: number | null;
  setups: { key: string; name: string; words: string; mounts: number; against: AdjustedAgainstOthers | null; lead: number | null }[];
  mounts: LiftedMount[];
  /** change a year, mm²·K/W; null where its occasions are too few to tell */
  drift: Drift | null;
  /** mean and mounts of each lot that was noted, where there are two or more */
  lots: { lot: string; mounts: number; mean: number; sd: number | null }[];
}

/** One material of the ranking: each set-up's word on it, its mounts over time, and its lots. */
export async function materialPlace(choice: RankingChoice, key: string): Promise<MaterialPlace> {
  const place = await rankingPlace(choice);
  const { answer } = place;
  const material = answer?.materials.find((m) => m.material === key);
  if (!answer || !material) throw new Refusal('That material is not in this ranking.', 404);
  const { question, rows, mounts, setups, names } = await gatherEvidence(choice);
  const own = rows.filter((r) => r.material === key);
  const told =
    answer.against_others ??
    (await keptRanking('others', { question, of: key }, () =>
      question ? rankingThreads.againstOthers({ question, setups: own.map((r) => r.setup) }) : Promise.resolve([]),
    ));
  const differences = new Map(answer.materials.map((m) => [m.material, m.difference]));
  // the level of a set-up: what its rows lie above their materials' differences, weighed as in the fit
  const tau2 = (answer.tau ?? 0) ** 2;
  const levels = new Map(
    own.map(({ setup }) => {
      const here = rows.filter((r) => r.setup === setup && differences.has(r.material));
      const weights = here.map((r) => 1 / (r.variance + tau2));
      const total = weights.reduce((a, b) => a + b, 0);
      return [setup, here.reduce((sum, r, i) => sum + weights[i] * (r.mean - (differences.get(r.material) ?? 0)), 0) / total];
    }),
  );
  const setupNames = new Map(place.setups.map((s) => [s.key, s]));
  const studies = new Map(setups.flatMap((s) => s.places.map((p) => [p.study_id, p.study])));
  // lots of the same sheet stand beside each other, whatever the ranking does with them
  const base = names.find((n) => n.key === key)?.base;
  const alike = names.filter((n) => n.base === base).map((n) => n.key);
  const lifted = mounts.flatMap((m): LiftedMount[] =>
    alike.includes(m.material) && levels.has(m.setup)
      ? [
          {
            ...{ mount_id: m.mount_id, study_id: m.study_id, study: studies.get(m.study_id) ?? '', lot: m.lot, at_s: m.at_s },
            ...{ setup: setupNames.get(m.setup)?.name ?? '', value: m.value - (levels.get(m.setup) ?? 0) },
          },
        ]
      : [],
  );
  const ownMounts = lifted.filter((m) => mounts.some((x) => x.mount_id === m.mount_id && x.material === key));
  return {
    ...{ choice, material, names: answer.names, tau: answer.tau, mounts: ownMounts, lots: lotsOf(lifted) },
    drift: driftOverYears(
      mounts.flatMap(({ material: of, setup, at_s, value }) => (of === key && at_s !== null ? [{ setup, at_s, value }] : [])),
    ),
    reference: { key: answer.reference, name: answer.names[answer.reference] },
    setups: own.map((r) => {
      const reference = rows.find((o) => o.setup === r.setup && o.material === answer.reference);
      const setup = setupNames.get(r.setup);
      return {
        ...{ key: r.setup, name: setup?.name ?? '', words: setup?.words ?? '', mounts: r.mounts },
        lead: reference && key !== answer.reference ? r.mean - reference.mean : null,
        against: told.find((a) => a.setup === r.setup && a.material === key) ?? null,
      };
    }),
  };
}

function lotsOf(mounts: LiftedMount[]): MaterialPlace['lots'] {
  const lots = [...new Set(mounts.map((m) => m.lot))];
  if (lots.filter((l) => l !== '').length < 2) return [];
  return lots.map((lot) => {
    const values = mounts.filter((m) => m.lot === lot).map((m) => m.value);
    const mean = values.reduce((a, b) => a + b, 0) / values.length;
    const squares = values.reduce((sum, v) => sum + (v - mean) ** 2, 0);
    return { lot, mounts: values.length, mean, sd: values.length < 2 ? null : Math.sqrt(squares / (values.length - 1)) };
  });
}
