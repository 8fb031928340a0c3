import { database } from '#app/database/pool';
import { mean } from '#core/stats/moments';
import { median } from '#core/stats/quantiles';
import { freshRuns } from '#features/ranking/model/freshRuns';
import type { GivenMount, GivenPlace, LeftOut, StudyGiven } from '#features/ranking/model/given';
import { partUnderTest } from '#features/ranking/model/partUnderTest';
import { pressureClass } from '#features/ranking/model/pressure';
import { listMountSettings, type MountSettingRow } from '#features/ranking/store/mountSettings';
import { rowsFor } from '#features/results/model/choice';
import type { RunFact } from '#features/results/model/facts';
import { gatherStudy } from '#features/results/server/studyResults';
import { FACTORS } from '#features/study/model/factors';
import { PLAN_DEFAULTS } from '#features/study/model/planDefaults';
import { answersOf } from '#features/study/server/keptAnswers';

/** What each of some studies gives to the ranking; kept until something of it changes. */
export const studiesGiven = (ids: number[]) => answersOf('ranking', ids, studyGiven);

type Settings = Map<number, MountSettingRow>;

/** Mounts of a study by where they stood, with what each says of its material. */
async function studyGiven(id: number): Promise<StudyGiven> {
  const { study, facts, origin } = await gatherStudy(id);
  const { plan } = study;
  const given: StudyGiven = {
    ...{ study_id: id, study: study.title, reference: facts.reference, places: [], not_ranked: '' },
    ...(origin && !origin.own ? { lab: origin.lab, lab_scatter: origin.lab_scatter } : { lab: null, lab_scatter: [] }),
  };
  const varies = plan.varies ?? PLAN_DEFAULTS.varies;
  if (varies !== 'material' || plan.design === 'two_by_two')
    return {
      ...given,
      not_ranked: `what varies in it is ${FACTORS[varies].toLowerCase()}${plan.design === 'two_by_two' ? ' and more' : ''}`,
    };
  const settings: Settings = new Map((await listMountSettings(database(), id)).map((s) => [s.mount_id, s]));
  const fixed = new Set(facts.specimens.flatMap((s) => (s.fixed ? [s.name] : [])));
  const runs = freshRuns(facts.runs, facts.ages).filter((r) => settings.has(r.mount_id) && !fixed.has(r.specimen));
  const several = facts.loads.length > 1;
  const places = new Map<string, { runs: RunFact[]; load: string | null }>();
  for (const run of runs) {
    const s = settings.get(run.mount_id);
    const load = several ? (run.load ?? facts.loads[0]) : null;
    const key = [id, s?.rig_id, s?.cooler_id ?? 0, load ?? ''].join('/');
    const place = places.get(key);
    if (place) place.runs.push(run);
    else places.set(key, { runs: [run], load });
  }
  for (const [key, { runs: own, load }] of places) {
    const setting = settings.get(own[0].mount_id);
    if (!setting) continue;
    const { area_mm2, contact, problem } = partUnderTest(setting.sheet, setting.parts);
    const { unit_serial, heat_source, contact_pressure_kpa } = setting.sheet;
    const powers = own.flatMap((r) => r.power_w ?? []);
    const place: GivenPlace = {
      ...{ key, study_id: id, study: study.title, rig_id: setting.rig_id, rig: setting.rig, load },
      part: [heat_source, unit_serial].filter(Boolean).join(', '),
      ...{ contact, area_mm2, area_problem: problem, cooler_id: setting.cooler_id, cooler: setting.cooler },
      ...{ power_w: powers.length === 0 ? null : median(powers), pressure: pressureClass(contact_pressure_kpa) },
      ...mountsOf(own, facts.loads, settings),
    };
    given.places.push(place);
  }
  return given;
}

const RESISTANCE = { outcome: 'r_k_per_w', load: null, power_w: null, event: null, with_excluded: false } as const;

/** Mounts of a place with the mean of the runs of each that stand, and those of which none does. */
function mountsOf(runs: RunFact[], loads: string[], settings: Settings): Pick<GivenPlace, 'mounts' | 'left_out'> {
  const rows = rowsFor({ runs, loads }, RESISTANCE);
  const mounts: GivenMount[] = [];
  const left = new Map<string, LeftOut>();
  for (const mount_id of new Set(runs.map((r) => r.mount_id))) {
    const s = settings.get(mount_id);
    if (!s) continue;
    const own = runs.flatMap((run, i) => (run.mount_id === mount_id ? [{ run, row: rows[i] }] : []));
    const counted = own.filter(({ row }) => row.valid && !row.excluded);
    const name = s.material ?? s.specimen;
    if (counted.length === 0) {
      const why = own.some(({ run }) => run.censored) ? 'throttled' : (own[0].row.reason ?? 'not measured');
      const known = left.get(`${name} ${why}`);
      left.set(`${name} ${why}`, { name, why, mounts: (known?.mounts ?? 0) + 1 });
      continue;
    }
    const times = own.flatMap(({ run }) => run.at_s ?? []);
    mounts.push({
      ...{ mount_id, name, kind: s.kind, lot: s.lot },
      material: s.material_id === null ? `n:${s.specimen.toLowerCase()}` : `m${s.material_id}`,
      k_per_w: mean(counted.map(({ row }) => row.value)),
      at_s: times.length === 0 ? null : Math.min(...times),
    });
  }
  return { mounts, left_out: [...left.values()] };
}
