import { database } from '#app/database/pool';
import { fitSweep, type SweepPoint } from '#core/thermal/coolers/sweep';
import type { CoolerSweep, CoolersGiven } from '#features/ranking/model/coolerRows';
import { partUnderTest } from '#features/ranking/model/partUnderTest';
import { listMountSettings } from '#features/ranking/store/mountSettings';
import { toldLevel, underFirstLoad } from '#features/results/model/sweeps';
import { gatherStudy } from '#features/results/server/studyResults';
import { PLAN_DEFAULTS } from '#features/study/model/planDefaults';
import { answersOf } from '#features/study/server/keptAnswers';

/** What each of some studies says of coolers over their fan speeds; kept until something of it changes. */
export const coolersGiven = (ids: number[]) => answersOf('ranking coolers', ids, ofStudy);

/** Sweeps of a study's coolers in K/W, rig by rig. */
async function ofStudy(id: number): Promise<CoolersGiven> {
  const { study, facts, origin } = await gatherStudy(id);
  const given: CoolersGiven = {
    study_id: id,
    study: study.title,
    lab: origin && !origin.own ? origin.lab : null,
    weighting: facts.sound.weighting,
    distance_m: facts.sound.distance_m !== null && facts.sound.at_m !== null ? facts.sound.at_m : facts.sound.distance_m,
    sweeps: [],
  };
  if ((study.plan.varies ?? PLAN_DEFAULTS.varies) !== 'cooler') return given;
  const settings = new Map((await listMountSettings(database(), id)).map((s) => [s.mount_id, s]));
  const runs = underFirstLoad(facts).filter((r) => r.mount_reason === null && r.run_reason === null && (r.values.fan_speed ?? 0) > 0);
  const groups = new Map<string, typeof runs>();
  for (const run of runs) {
    const s = settings.get(run.mount_id);
    // a tower with another fan is another cooler; its name tells it
    if (s) groups.set(`${s.rig_id}/${run.specimen}`, [...(groups.get(`${s.rig_id}/${run.specimen}`) ?? []), run]);
  }
  for (const own of groups.values()) {
    const setting = settings.get(own[0].mount_id);
    if (!setting) continue;
    const points = own.map((r): SweepPoint => {
      const told = r.values.noise === undefined ? null : toldLevel(r.values.noise, facts.sound);
      return {
        mount: String(r.mount),
        rpm: r.values.fan_speed as number,
        rise: r.r_valid ? (r.values.r_k_per_w ?? null) : null,
        level: told?.level ?? null,
        level_at_most: told?.at_most ?? false,
      };
    });
    const sweep: CoolerSweep = {
      name: own[0].specimen,
      ...{ rig_id: setting.rig_id, rig: setting.rig, material: setting.material ?? '' },
      area_mm2: partUnderTest(setting.sheet, setting.parts).area_mm2,
      sweep: fitSweep(own[0].specimen, points),
    };
    given.sweeps.push(sweep);
  }
  return given;
}
