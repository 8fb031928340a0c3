import { database } from '#app/database/pool';
import { mean } from '#core/stats/moments';
import { median } from '#core/stats/quantiles';
import { freshRuns } from '#features/ranking/model/freshRuns';
import type { GivenMount, GivenPlace, LeftOut, StudyGiven } from '#features/ranking/model/given';
import { partUnderTest } from '#features/ranking/model/partUnderTest';
import { pressureClass } from '#features/ranking/model/pressure';
import { listMountSettings } from '#features/ranking/store/mountSettings';
import { rowsFor } from '#features/results/model/choice';
import type { RunFact } from '#features/results/model/facts';
import { gatherStudy } from '#features/results/server/studyResults';
import { FACTORS } from '#features/study/model/factors';
import { PLAN_DEFAULTS } from '#features/study/model/planDefaults';
import { answersOf } from '#features/study/server/keptAnswers';

/** What each of some studies gives to the ranking; kept until something of it changes. */
export const studiesGiven = (ids: number[]) => answersOf('ranking', ids, studyGiven);

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
  const settings = new Map((await listMountSettings(database(), id)).map((s) => [s.mount_id, s]));
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
  const choice = { outcome: 'r_k_per_w', load: null, power_w: null, event: null, with_excluded: false } as const;
  for (const [key, { runs: own, load }] of places) {
    const rows = rowsFor({ runs: own, loads: facts.loads }, choice);
    const setting = settings.get(own[0].mount_id);
    const powers = own.flatMap((r) => r.power_w ?? []);
    if (!setting) continue;
    const { area_mm2, contact, problem } = partUnderTest(setting.sheet, setting.parts);
    const mounts: GivenMount[] = [];
    const left = new Map<string, LeftOut>();
    for (const mount_id of new Set(own.map((r) => r.mount_id))) {
      const s = settings.get(mount_id);
      if (!s) continue;
      const of = own.flatMap((run, i) => (run.mount_id === mount_id ? [{ run, row: rows[i] }] : []));
      const counted = of.filter(({ row }) => row.valid && !row.excluded);
      const name = s.material ?? s.specimen;
      if (counted.length === 0) {
        const why = of.some(({ run }) => run.censored) ? 'throttled' : (of[0].row.reason ?? 'not measured');
        const before = left.get(`${name} ${why}`);
        if (before) before.mounts++;
        else left.set(`${name} ${why}`, { name, mounts: 1, why });
        continue;
      }
      const times = of.flatMap(({ run }) => run.at_s ?? []);
      mounts.push({
        ...{ mount_id, name, kind: s.kind, lot: s.lot },
        material: s.material_id === null ? `n:${s.specimen.toLowerCase()}` : `m${s.material_id}`,
        k_per_w: mean(counted.map(({ row }) => row.value)),
        at_s: times.length === 0 ? null : Math.min(...times),
      });
    }
    const { unit_serial, heat_source, contact_pressure_kpa } = setting.sheet;
    const place: GivenPlace = {
      ...{ key, study_id: id, study: study.title, rig_id: setting.rig_id, rig: setting.rig, load, mounts },
      part: [heat_source, unit_serial].filter(Boolean).join(', '),
      ...{ contact, area_mm2, area_problem: problem, cooler_id: setting.cooler_id, cooler: setting.cooler },
      ...{
        power_w: powers.length === 0 ? null : median(powers),
        pressure: pressureClass(contact_pressure_kpa),
        left_out: [...left.values()],
      },
    };
    given.places.push(place);
  }
  return given;
}
