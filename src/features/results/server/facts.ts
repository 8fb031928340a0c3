import { OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';
import { mean } from '#core/stats/moments';
import { type PartLimit, partMargins, worstMargin } from '#core/thermal/limits/partLimits';
import { rowsFor } from '#features/results/model/choice';
import type { RunFact, SpecimenFact, StudyFacts } from '#features/results/model/facts';
import type { AmbientSchool } from '#features/results/model/levelScale';
import { limitsOfParts, partFigures } from '#features/results/model/parts';
import type { RunValueRow } from '#features/run/store/runs';
import { DEFAULT_MOUNT_SD, type SpecimenKind } from '#features/shelf/model/materials';
import { sensorsOf } from '#features/shelf/model/partSensors';
import { readAges } from '#features/study/model/ages';
import { isAsFound } from '#features/study/model/asFound';
import type { LabHistory } from '#features/study/model/context';
import { readPartLimits, unreadSensors } from '#features/study/model/partLimits';
import { PLAN_DEFAULTS } from '#features/study/model/planDefaults';
import { mainOutcome } from '#features/study/model/reduction';
import type { RunsSoFar } from '#features/study/model/soFar';
import type { SpecimenRow, StudyRow } from '#features/study/store/studies';

/** A study as its results rest on it, from its rows. What it costs is not in it yet. */
export function factsOf(
  study: StudyRow,
  specimens: SpecimenRow[],
  values: RunValueRow[],
  history: LabHistory[],
  shown: number[],
): StudyFacts {
  const { plan } = study;
  const design = plan.design ?? PLAN_DEFAULTS.design;
  const limits = readPartLimits(plan.part_limits ?? '') ?? [];
  const room = plan.limits_room_c ?? PLAN_DEFAULTS.limits_room_c;
  const mounts = new Set(values.map((v) => v.mount_id)).size;
  return {
    study_id: study.id,
    title: study.title,
    question: study.question,
    reference: specimens.find((s) => s.id === study.reference_id)?.name ?? null,
    specimens: specimens.map((s): SpecimenFact => {
      return {
        ...{
          id: s.id,
          name: s.name,
          position: s.position,
          kind: s.kind,
          fixed: isAsFound({ ...plan, reference_id: study.reference_id }, s),
          levels: levelsOf(s),
        },
        ...{ cost: null, minutes: null, tries: 0, failed: 0, mounts_planned: 0 },
      };
    }),
    runs: values.map((v) => factOf(v, limits, room, plan.sensor_school === 'hottest')),
    loads: (plan.loads ?? []).map((l) => l.name),
    margin_k: study.margin_k,
    main_outcome: mainOutcome(plan),
    margins: Object.fromEntries((plan.outcomes ?? []).map((o) => [o.key, o.margin])),
    confidence: study.confidence,
    scatter: study.scatter,
    family: plan.family ?? PLAN_DEFAULTS.family,
    block: blockOf(plan, values),
    design,
    ambient_school: (plan.ambient_school ?? PLAN_DEFAULTS.ambient_school) as AmbientSchool,
    borrowed: borrowedFrom(history, specimens),
    default_mount_sd: assumedSd(specimens),
    currency: plan.currency ?? null,
    unplanned_look: (plan.looks ?? []).length > 0 ? null : (shown.filter((n) => n < mounts).at(-1) ?? null),
    instruments: [],
    factors: [plan.varies ?? PLAN_DEFAULTS.varies, design === 'two_by_two' ? (plan.second_factor ?? null) : null],
    limits_room_c: limits.length > 0 || values.some((v) => limitsOfParts(v.rig_parts).length > 0) ? room : null,
    limits_unread: unreadSensors(
      [...limits, ...partsNamed(values)],
      [...new Set(values.flatMap((v) => temperaturesOf(v).map((s) => s.name)))],
    ),
    ages: readAges(plan.ages ?? '') ?? [],
    sound: {
      ...{ floor_db: plan.noise_floor_db ?? null, distance_m: plan.noise_distance_m ?? null, at_m: plan.noise_at_m ?? null },
      ...{ target_db: plan.noise_target_db ?? null, weighting: plan.noise_weighting ?? PLAN_DEFAULTS.noise_weighting },
    },
  };
}

/** What the runs of a study say to its plan: their rises, and the resistance of each specimen. */
export function runsSoFar({ runs }: Pick<StudyFacts, 'runs'>): RunsSoFar {
  const rowsOf = (outcome: OutcomeKey) =>
    rowsFor({ runs, loads: [] }, { outcome, load: null, power_w: null, event: null, with_excluded: false });
  const resistances = rowsOf('r_k_per_w').filter((r) => r.valid && !r.excluded);
  const known = [...new Set(resistances.map((r) => r.specimen))];
  const meanOf = (specimen: string) => mean(resistances.flatMap((r) => (r.specimen === specimen ? r.value : [])));
  return { rows: rowsOf('rise'), measured: known.map((specimen) => ({ specimen, k_per_w: meanOf(specimen) })) };
}

/** Parts that the rigs of the runs name, with their sensors. */
const partsNamed = (values: RunValueRow[]): PartLimit[] =>
  [...new Map(values.map((v) => [v.rig, v.rig_parts])).values()].flatMap((parts) =>
    parts.map((p) => ({ part: p.name, sensors: sensorsOf(p), limit_c: p.limit_c ?? Number.NaN })),
  );

/** Everything of a run that has a temperature: its sensors, and other parts. */
const temperaturesOf = ({ sensors, parts }: Pick<RunValueRow, 'sensors' | 'parts'>) => [...(sensors ?? []), ...(parts ?? [])];

function factOf(v: RunValueRow, planned: PartLimit[], room_c: number, hottest: boolean): RunFact {
  // what the plan says of a part goes before its rig's sheet
  const limits = [...planned, ...limitsOfParts(v.rig_parts).filter((l) => !planned.some((p) => p.part === l.part))];
  const margins = partMargins(temperaturesOf(v), limits, room_c);
  const sensors = Object.fromEntries(temperaturesOf(v).flatMap((s) => (s.rise_k === null ? [] : [[s.name, s.rise_k]])));
  const parts = partFigures(v.rig_parts, sensors, v.power_w, hottest);
  const performance = { ...v.performance, ...withoutNulls(v.program ?? {}) };
  const score = performance.score ?? null;
  const values: Record<string, number | null | undefined> = {
    ...{ hottest: v.hottest_rise_k, coldest: v.hottest_rise_k === null || v.spread_k === null ? null : v.hottest_rise_k - v.spread_k },
    ...{ rise: v.rise_k, r_k_per_w: v.r_k_per_w, idle_rise: v.idle_rise_k, spread: v.spread_k },
    ...{ limit_room: worstMargin(margins)?.margin_k, fan_speed: v.fan_rpm, clock: v.clock_mhz, noise: v.noise_db },
    ...{ fan_duty: v.fan_pct, power: v.power_w, exhaust: v.exhaust_rise_k, voltage: v.voltage_v },
    throttle_share: v.throttled_share === null ? null : 100 * v.throttled_share,
    ...{ score, run_time: performance.run_time_s, frame_rate: performance.frame_rate },
    ...{ slow_frame_rate: performance.slow_frame_rate, frame_time: performance.frame_time_ms },
    score_per_watt: score !== null && v.power_w ? score / v.power_w : performance.score_per_w,
  };
  return {
    ...{ run_id: v.run_id, run: v.run, mount_id: v.mount_id, mount: v.mount, specimen: v.specimen, rig: v.rig, load: v.load },
    ...{ day: v.day, at_s: v.at_s, at_zoned: v.at_zoned },
    ...{ valid: v.valid && v.rise_k !== null, r_valid: v.r_valid, censored: v.censored },
    values: Object.fromEntries(
      Object.entries(values).filter(([key, value]) => key in OUTCOMES && value !== null && value !== undefined),
    ) as Partial<Record<OutcomeKey, number>>,
    events: v.times_to ?? [],
    ...(v.ladder ? { ladder: v.ladder } : {}),
    sensors,
    ...(parts.length > 0 ? { parts } : {}),
    power_w: v.power_w,
    exhaust_rise_k: v.exhaust_rise_k,
    margins,
    undecided: v.decision ?? [],
    mount_reason: v.excluded_reason,
    run_reason: v.run_excluded_reason,
  };
}

/** Blocks of the plan; of a before and after over several devices the devices, where it says nothing. */
function blockOf({ block, design }: StudyRow['plan'], values: RunValueRow[]): StudyFacts['block'] {
  if (block) return block === 'none' ? null : block;
  return design === 'before_after' && new Set(values.map((v) => v.rig)).size > 1 ? 'rig' : null;
}

function levelsOf({ plan }: SpecimenRow): SpecimenFact['levels'] {
  const [a, b] = [plan.level_a?.trim(), plan.level_b?.trim()];
  return a && b ? [a, b] : null;
}

const withoutNulls = (o: object) => Object.fromEntries(Object.entries(o).filter(([, v]) => v !== null));

function borrowedFrom(history: LabHistory[], specimens: SpecimenRow[]): StudyFacts['borrowed'] {
  return Object.fromEntries(
    specimens.flatMap((s) => {
      const known = history.find((h) => h.kind === s.kind);
      return known
        ? [[s.name, { sd: Math.hypot(known.mount_sd, known.run_sd), df: known.df, from: `this lab's own, from ${known.mounts} mounts` }]]
        : [];
    }),
  );
}

function assumedSd(specimens: SpecimenRow[]): number {
  const known = specimens.map((s) => DEFAULT_MOUNT_SD[s.kind as SpecimenKind] ?? 0.5);
  return known.length === 0 ? 0.5 : Math.max(...known);
}
