import { ENOUGH_DF, grouped, type MountsRow, rowsOfMounts, spread } from '#core/ranking/mountRows';
import { DEFAULT_MOUNT_SD, type SpecimenKind } from '#features/shelf/model/materials';
import type { GivenMount, LeftOut } from './given';
import type { LabPlace, RankedSetup } from './setups';

/** How the evidence is looked at; every field is part of the address. */
export interface RankingChoice {
  /** material the others are compared with; null: the one most set-ups have */
  reference: string | null;
  lots: 'apart' | 'together';
  labs: 'own' | 'all';
  /** newest years alone; null: all */
  years: number | null;
}

/** A material as the ranking knows it: a sheet of the shelf, or one lot of it. */
export interface RankedName {
  key: string;
  name: string;
  kind: string;
  /** of all its lots */
  base: string;
  /** null where it is no sheet of the shelf */
  material_id: number | null;
  /** null where its lots are together, or it has one alone */
  lot: string | null;
}

/** A mount with its set-up and material, as a row is made from it. */
export interface PlacedMount {
  setup: string;
  material: string;
  mount_id: number;
  study_id: number;
  value: number;
  at_s: number | null;
  lot: string;
}

/** What is ranked, and what is not. */
export interface RankingEvidence {
  rows: MountsRow[];
  mounts: PlacedMount[];
  names: RankedName[];
  /** mounts that are in no row, by why */
  left_out: (LeftOut & { setup: string })[];
  /** means whose scatter neither their set-up nor their lab tells, so that what is usual of the kind is taken */
  usual_scatter: MountsRow[];
  /** materials with two lots or more */
  several_lots: string[];
}

const SECONDS_A_YEAR = 365.25 * 86_400;

/**
 * Rows of a ranking from set-ups: area-scaled resistances (mm²·K/W), one a set-up and material.
 * @param now_s seconds since 1970, which years are counted back from
 */
export function rankingEvidence(setups: RankedSetup[], choice: Omit<RankingChoice, 'reference'>, now_s: number): RankingEvidence {
  const counted = setups.filter((s) => choice.labs === 'all' || s.lab === null);
  const oldest = choice.years === null ? Number.NEGATIVE_INFINITY : now_s - choice.years * SECONDS_A_YEAR;
  const left: RankingEvidence['left_out'] = [];
  const leave = (setup: string, name: string, why: string) => {
    const before = left.find((l) => l.setup === setup && l.name === name && l.why === why);
    if (before) before.mounts++;
    else left.push({ setup, name, why, mounts: 1 });
  };
  const taken: { setup: RankedSetup; place: LabPlace; mount: GivenMount }[] = [];
  for (const setup of counted)
    for (const place of setup.places) {
      for (const l of place.left_out) left.push({ ...l, setup: setup.key });
      for (const mount of place.mounts) {
        if (place.area_mm2 === null) leave(setup.key, mount.name, place.area_problem);
        // what has no time cannot be said to be new
        else if (choice.years !== null && (mount.at_s === null || mount.at_s < oldest))
          leave(setup.key, mount.name, 'older than what is looked at');
        else taken.push({ setup, place, mount });
      }
    }
  // what was named before it had a sheet is the sheet's by its name
  const sheets = new Map(
    taken.flatMap(({ mount }) => (mount.material.startsWith('m') ? [[`n:${mount.name.toLowerCase()}`, mount.material]] : [])),
  );
  for (const t of taken) t.mount = { ...t.mount, material: sheets.get(t.mount.material) ?? t.mount.material };
  const lots = new Map<string, Set<string>>();
  for (const { mount } of taken) if (mount.lot !== '') lots.set(mount.material, (lots.get(mount.material) ?? new Set()).add(mount.lot));
  const isSplit = (material: string) => (lots.get(material)?.size ?? 0) > 1;
  const keyOf = (m: GivenMount) => (choice.lots === 'apart' && isSplit(m.material) ? `${m.material}|${m.lot}` : m.material);
  const mounts = taken.map(
    ({ setup, place, mount }): PlacedMount => ({
      ...{ setup: setup.key, material: keyOf(mount), mount_id: mount.mount_id, study_id: place.study_id, at_s: mount.at_s, lot: mount.lot },
      value: mount.k_per_w * (place.area_mm2 ?? 0),
    }),
  );
  const names = new Map<string, RankedName>();
  for (const { mount } of taken) {
    const lot = choice.lots === 'apart' && isSplit(mount.material) ? mount.lot : null;
    names.set(keyOf(mount), {
      ...{ key: keyOf(mount), base: mount.material, kind: mount.kind, lot },
      name: lot === null ? mount.name : `${mount.name}, ${lot === '' ? 'lot not noted' : `lot ${lot}`}`,
      material_id: mount.material.startsWith('m') ? Number(mount.material.slice(1)) : null,
    });
  }
  const assumed = assumedScatter(taken, mounts);
  const rows = rowsOfMounts(mounts, (setup, material) => assumed(setup, material).sd);
  return {
    ...{ rows, mounts, names: [...names.values()], left_out: left },
    usual_scatter: rows.filter((r) => r.basis === 'assumed' && assumed(r.setup, r.material).is_usual),
    several_lots: [...new Set(taken.flatMap(({ mount }) => (isSplit(mount.material) ? [mount.name] : [])))],
  };
}

/**
 * Scatter between mounts of a kind where a set-up does not tell it: that of all set-ups of its lab together, else what the lab that measured
 * it says in kelvin, else the usual, both turned by area and power.
 */
function assumedScatter(taken: { setup: RankedSetup; place: LabPlace; mount: GivenMount }[], mounts: PlacedMount[]) {
  const squares = new Map<string, { squares: number; df: number }>();
  const labKind = (lab: string | null, kind: string) => JSON.stringify([lab, kind]);
  for (const group of grouped(
    mounts.map((m, i) => ({ ...m, i })),
    (m) => JSON.stringify([m.setup, m.material]),
  ).values()) {
    const { setup, mount } = taken[group[0].i];
    const own = spread(group.map((m) => m.value));
    const key = labKind(setup.lab, mount.kind);
    const before = squares.get(key) ?? { squares: 0, df: 0 };
    squares.set(key, { squares: before.squares + own.squares, df: before.df + own.df });
  }
  const first = new Map(taken.map((t, i) => [JSON.stringify([mounts[i].setup, mounts[i].material]), t]));
  return (setup: string, material: string): { sd: number; is_usual: boolean } => {
    const { place, mount, setup: own } = first.get(JSON.stringify([setup, material])) as (typeof taken)[number];
    const pooled = squares.get(labKind(own.lab, mount.kind));
    if (pooled && pooled.df >= ENOUGH_DF && pooled.squares > 0) return { sd: Math.sqrt(pooled.squares / pooled.df), is_usual: false };
    const told = place.lab_scatter.find((s) => s.kind === mount.kind)?.mount_sd;
    const kelvin = told ?? DEFAULT_MOUNT_SD[mount.kind as SpecimenKind] ?? 0.5;
    return { sd: (kelvin * (place.area_mm2 ?? 0)) / (place.power_w || 1), is_usual: told === undefined };
  };
}
