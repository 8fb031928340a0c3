import { OUTCOMES } from '#core/compare/outcomes';
import type { OrderPlan } from '#core/design/orderTypes';
import type { RehearsalPlan } from '#core/design/rehearse';
import type { PlannedComparison } from '#core/design/types';
import { DEFAULT_MOUNT_SD } from '#features/shelf/model/materials';
import { crossedDevices, isAsFound } from './asFound';
import { benchDates, dayStarts } from './calendar';
import type { LabHistory, PlanContext, PlanRig, PlanSpecimen } from './context';
import { loadMinutes, loadPower } from './loadFigures';
import { DEFAULT_RUN_SD, PLAN_DEFAULTS } from './planDefaults';
import { mainOutcome, wantsRise } from './reduction';
import { scatterChoice } from './scatterChoice';
import type { StudyPlan } from './studyPlan';

/** Bench days laid out ahead; later ones follow daily. */
const DAYS_AHEAD = 400;

type Stated = { [K in keyof typeof PLAN_DEFAULTS]: NonNullable<StudyPlan[K]> } & StudyPlan;

/** A specimen with everything its plan needs said, from the plan, its sheet, the lab's history or a default. */
export interface ResolvedSpecimen extends PlanSpecimen {
  /** mounts planned, as far as stock and coupons go */
  mounts: number;
  /** mounts that stock and coupons allow in this study, those made included; null where nothing limits them */
  allowed: number | null;
  mount_sd: number;
  /** mounts of this lab that the scatter rests on; 0 for a stated default, null where the plan says it */
  sd_basis: number | null;
  wait_h: number;
  last: boolean;
  /** a state as it was found, which cannot be mounted again */
  as_found: boolean;
  /** a permanent bond on a part without coupons: the last mount of that part */
  seals: boolean;
  /** unit it is measured on; empty where it is the rig's own */
  unit: string;
}

/** A plan with nothing left open: what core computes with. */
export interface ResolvedPlan {
  said: Stated;
  specimens: ResolvedSpecimen[];
  reference: ResolvedSpecimen | null;
  rigs: PlanRig[];
  comparison: PlannedComparison;
  /** mounts of this lab that the scatter of the comparison rests on; null where the plan says it */
  sd_basis: number | null;
  run_basis: number | null;
  /** dates of the bench days; empty where the plan has no first day */
  dates: string[];
  /** null while there is nothing to order: no specimen, reference or rig */
  order: OrderPlan | null;
  load_w: number | null;
  limit_c: number | null;
}

/** Settles every figure of a plan. */
export function resolvePlan(plan: StudyPlan, context: PlanContext): ResolvedPlan {
  const said = { ...PLAN_DEFAULTS, ...withoutEmpty(plan) } as Stated;
  const rigs = (plan.rigs ?? []).map((id) => context.rigs.find((r) => r.id === id)).filter((r) => r !== undefined);
  const runMin = plan.run_min ?? loadsMinutes(said) ?? PLAN_DEFAULTS.run_min;
  said.run_min = runMin;
  // a device that is opened for each mount is opened and closed again
  said.mount_min = plan.mount_min ?? PLAN_DEFAULTS.mount_min + 2 * Math.max(0, ...rigs.map((r) => r.teardown_min ?? 0));
  const coupons = couponsLeft(rigs);
  const parts = { coupons, rigs: rigs.length, devices: crossedDevices(plan) };
  const specimens = context.specimens.map((s) => resolveSpecimen(s, said, parts, context.history));
  const reference = specimens.find((s) => s.id === plan.reference_id) ?? null;
  const run = runScatter(context, plan);
  // a kind's history counts once, however many specimens are of that kind
  const kinds = new Map(specimens.map((s) => [s.kind, s.sd_basis ?? 0]));
  const basis = plan.mount_sd != null ? null : [...kinds.values()].reduce((a, b) => a + b, 0);
  const measure = measureOf(said);
  const comparison: PlannedComparison = {
    specimens: specimens.length,
    runs: said.runs,
    // nobody knows the scatter of clocks or scores beforehand: it is taken as large as what matters
    mount_sd: plan.mount_sd ?? (measure ? measure.margin : rootMeanSquare(specimens.map((s) => s.mount_sd))),
    ...(measure ? { unit: measure.unit } : {}),
    run_sd: measure ? (plan.run_sd ?? 0) : run.sd,
    ...{ margin: measure?.margin ?? said.margin_k, confidence: said.confidence, family: said.family },
    scatter: scatterChoice(said.scatter),
    one_kind: kinds.size < 2,
    power: said.power,
  };
  const dates = plan.start_on ? benchDates(plan.start_on, said.weekdays, Math.min(DAYS_AHEAD, 2 * (said.days ?? DAYS_AHEAD))) : [];
  return {
    ...{ said, specimens, reference, rigs, comparison, dates },
    sd_basis: measure && plan.mount_sd == null ? 0 : basis,
    run_basis: measure && plan.run_sd == null ? 0 : run.basis,
    order: orderOf(said, specimens, reference, rigs, dates),
    load_w: plan.load_w ?? loadPower(said.loads ?? []) ?? rigs[0]?.sheet.power_w ?? null,
    limit_c: lowest(rigs.map((r) => r.sheet.throttle_limit_c ?? null)),
  };
}

/** What a study is planned in that wants no rise: the unit of its outcome, and what matters in it; null where it is the kelvin of a rise. */
function measureOf(said: Stated): { unit: string; margin: number } | null {
  if (wantsRise(said)) return null;
  const key = mainOutcome(said);
  return { unit: OUTCOMES[key].unit, margin: (said.outcomes ?? []).find((o) => o.key === key)?.margin ?? OUTCOMES[key].margin };
}

/** The rehearsal of a plan; specimens without a supposed rise are taken to equal the reference. */
export function rehearsalOf(plan: ResolvedPlan): RehearsalPlan | null {
  // what is supposed of a specimen is a rise
  if (plan.specimens.length < 2 || !plan.reference || plan.comparison.unit !== undefined) return null;
  const { said, comparison, reference } = plan;
  const base = reference.plan.rise_k ?? 40;
  const absolute = said.warmest_c != null && plan.limit_c !== null ? plan.limit_c - said.warmest_c : null;
  return {
    ...comparison,
    reference: reference.name,
    specimens: plan.specimens.map((s) => ({
      specimen: s.name,
      rise_k: s.plan.rise_k ?? base,
      mount_sd: s.mount_sd,
      mounts: s.mounts,
      wait_h: s.wait_h,
    })),
    mount_min: said.mount_min,
    run_min: said.run_min,
    day_sd: said.day_sd,
    block: said.block === 'none' ? null : said.block,
    rigs: plan.rigs.length,
    failure: said.failure_pct / 100,
    limit_rise_k: absolute,
    looks: said.looks.filter((b) => b < said.mounts).map((b) => b / said.mounts),
  };
}

/** Worst resistance to expect: the plan's, else the worst of the specimens'. */
export function worstResistance({ said, specimens }: ResolvedPlan): number | null {
  if (said.worst_k_per_w != null) return said.worst_k_per_w;
  const known = specimens.map((s) => s.plan.k_per_w ?? null).filter((k) => k !== null);
  return known.length === 0 ? null : Math.max(...known);
}

interface Parts {
  /** coupons left for permanent bonds; null where no rig counts any */
  coupons: number | null;
  rigs: number;
  /** devices that states are crossed with */
  devices: number;
}

function resolveSpecimen(s: PlanSpecimen, said: Stated, { coupons, rigs, devices }: Parts, history: LabHistory[]): ResolvedSpecimen {
  const m = s.material?.sheet;
  const as_found = isAsFound(said, s);
  const seals = m?.permanent === true && coupons === null && rigs > 0;
  const known = history.find((h) => h.kind === s.kind && h.mounts >= LEAST_HISTORY);
  const own = s.plan.mount_sd ?? said.mount_sd ?? null;
  const limits = [s.stock_left, m?.permanent ? coupons : null].filter((v) => v !== null);
  // a part without coupons takes one permanent bond; a state that cannot come back is measured once on each device
  const once = [...(seals ? [rigs] : []), ...(as_found ? [Math.max(devices, s.made)] : [])];
  const stocked = limits.map((left) => s.made + left);
  const allowed = limits.length + once.length === 0 ? null : Math.min(...stocked, ...once);
  const wanted = said.mounts * devices;
  return {
    ...s,
    allowed,
    mounts: Math.max(s.made, allowed === null ? wanted : Math.min(wanted, allowed)),
    mount_sd: own ?? known?.mount_sd ?? DEFAULT_MOUNT_SD[s.kind],
    sd_basis: own !== null ? null : (known?.mounts ?? 0),
    wait_h: s.plan.wait_h ?? m?.conditioning_h ?? ((m?.conditioning_cycles ?? 0) * said.run_min) / 60,
    last: s.plan.last ?? (m?.contaminates === true || m?.permanent === true || s.kind === 'liquid_metal'),
    ...{ as_found, seals },
    unit: s.plan.unit ?? '',
  };
}

/** A lab's history counts from so many mounts on: a standard deviation from fewer says little. */
const LEAST_HISTORY = 4;

function orderOf(
  said: Stated,
  specimens: ResolvedSpecimen[],
  reference: ResolvedSpecimen | null,
  rigs: PlanRig[],
  dates: string[],
): OrderPlan | null {
  if (specimens.length === 0 || !reference || rigs.length === 0) return null;
  return {
    specimens: specimens.map((s) => ({
      ...{ specimen: s.name, mounts: s.mounts, wait_min: Math.round(60 * s.wait_h), last: s.last },
      ...{ first: s.as_found, permanent: s.seals },
    })),
    ...{ reference: reference.name, bracket: said.bracket, runs: said.runs, mount_min: said.mount_min, run_min: said.run_min },
    day_min: 60 * said.day_hours,
    rigs: rigs.map((r) => r.name),
    day_starts_min: dates.length > 0 ? dayStarts(dates) : [],
    days: said.days ?? null,
  };
}

/** Minutes of all loads on one mount; null where none has a step. */
function loadsMinutes(said: Stated): number | null {
  const minutes = (said.loads ?? []).reduce((sum, l) => sum + loadMinutes(l), 0);
  return minutes > 0 ? minutes : null;
}

/** Scatter between runs: the plan's, else the lab's over the kinds of the study, else the default. */
function runScatter(context: PlanContext, plan: StudyPlan): { sd: number; basis: number | null } {
  if (plan.run_sd != null) return { sd: plan.run_sd, basis: null };
  const kinds = new Set(context.specimens.map((s) => s.kind));
  const known = context.history.filter((h) => kinds.has(h.kind) && h.mounts >= LEAST_HISTORY);
  const mounts = known.reduce((sum, h) => sum + h.mounts, 0);
  if (mounts === 0) return { sd: DEFAULT_RUN_SD, basis: 0 };
  return { sd: Math.sqrt(known.reduce((sum, h) => sum + h.mounts * h.run_sd ** 2, 0) / mounts), basis: mounts };
}

function couponsLeft(rigs: PlanRig[]): number | null {
  const counted = rigs.map((r) => r.coupons_left).filter((c) => c !== null);
  return counted.length === 0 ? null : counted.reduce((a, b) => a + b, 0);
}

const rootMeanSquare = (values: number[]): number =>
  values.length === 0 ? 0.5 : Math.sqrt(values.reduce((sum, v) => sum + v * v, 0) / values.length);

const lowest = (values: (number | null)[]) => {
  const known = values.filter((v) => v !== null);
  return known.length === 0 ? null : Math.min(...known);
};

const withoutEmpty = (plan: StudyPlan): StudyPlan =>
  Object.fromEntries(Object.entries(plan).filter(([, v]) => v !== null && v !== undefined && v !== ''));
