import { analyse } from '#core/compare/analyse';
import type { AnalysisRow } from '#core/compare/rows';
import type { AnalysedPair, Analysis, AnalysisOptions, BlockBy, Verdict } from '#core/compare/types';
import { type Random, seededRandom } from '#core/stats/random';
import { planLooks } from './spending';
import type { BenchTimes, PlannedComparison } from './types';

/** A specimen as it is supposed to be, for a rehearsal. */
interface SupposedSpecimen {
  specimen: string;
  /** supposed ΔT over ambient, K */
  rise_k: number;
  /** scatter between its mounts, K; the plan's where absent */
  mount_sd?: number;
  mounts: number;
  /** conditioning or cure of each mount, hours */
  wait_h?: number;
}

export interface RehearsalPlan extends Omit<PlannedComparison, 'specimens' | 'power'>, Pick<BenchTimes, 'mount_min' | 'run_min'> {
  /** the first is the reference unless `reference` names another */
  specimens: SupposedSpecimen[];
  reference?: string;
  /** shift common to all mounts of one bench day, K; mount m of every specimen is taken to fall in block m */
  day_sd: number;
  /** what the comparison takes out, as the plan says */
  block: BlockBy | null;
  /** rigs over which the mounts of each specimen are shared in turn */
  rigs: number;
  /** chance that a mount fails and is made anew; after three failures it is lost */
  failure: number;
  /** rise at which a run throttles, K; null where nothing can */
  limit_rise_k: number | null;
  /** planned interim looks as shares of the mounts, rising, without the last */
  looks: number[];
}

export interface PairShares {
  a: string;
  b: string;
  /** supposed difference a − b, K */
  difference: number;
  correct: number;
  wrong: number;
  unresolved: number;
}

export interface Rehearsal {
  count: number;
  /** shares over all pairs and rehearsals */
  correct: number;
  wrong: number;
  unresolved: number;
  /** share of rehearsals with any wrong verdict */
  wrong_any: number;
  pairs: PairShares[];
  /** share of runs that throttled, by specimen */
  throttled: { specimen: string; share: number }[];
  /** bench hours at a mean */
  hours: number;
  /** share of rehearsals that were settled at an interim look, and so ended early */
  early: number;
}

/** One rehearsed study: its run values, and the comparison at each look up to the one that ended it. */
interface RehearsedStudy {
  rows: AnalysisRow[];
  looks: Analysis[];
  verdicts: { pair: AnalysedPair; verdict: Verdict }[];
  hours: number;
  ended_early: boolean;
}

const ATTEMPTS = 3;
const LOST = 'lost';

/**
 * Rehearses a plan: simulated studies go through the same `analyse` as real ones.
 * Built to be advanced in steps, so that a worker can report how far it is.
 */
export class Rehearser {
  private readonly random: Random;
  private readonly looks: { share: number; confidence: number }[];
  private readonly pairs = new Map<string, PairShares>();
  private readonly throttledRuns = new Map<string, { runs: number; throttled: number }>();
  private done = 0;
  private wrongAny = 0;
  private hours = 0;
  private early = 0;

  constructor(
    private readonly plan: RehearsalPlan,
    seed: number,
  ) {
    this.random = seededRandom(seed);
    const alpha = 1 - plan.confidence;
    this.looks = planLooks([...plan.looks, 1], alpha).map((l) => ({
      share: l.fraction,
      confidence: plan.looks.length === 0 ? plan.confidence : 1 - l.nominal_alpha,
    }));
  }

  /** Rehearses some more studies. */
  step(count: number): void {
    for (let i = 0; i < count; i++) this.count(this.study());
  }

  /** Simulates and compares one study. */
  study(): RehearsedStudy {
    const rows = this.drawRows();
    const looks: Analysis[] = [];
    const settled = new Map<string, { pair: AnalysedPair; verdict: Verdict }>();
    let share = 1;
    for (const look of this.looks) {
      share = look.share;
      const seen =
        look.share === 1 ? rows : rows.filter((r) => Number(r.mount) <= Math.floor(look.share * this.mountsOf(r.specimen) + 1e-9));
      if (!seen.some((r) => r.valid !== false)) continue;
      const analysis = analyse(seen, this.options(look.confidence));
      looks.push(analysis);
      for (const pair of analysis.pairs) {
        const key = `${pair.a}\n${pair.b}`;
        const known = settled.get(key);
        if (!known || known.verdict === 'unresolved') settled.set(key, { pair, verdict: pair.verdict });
      }
      if (look.share < 1 && settled.size > 0 && [...settled.values()].every((v) => v.verdict !== 'unresolved')) break;
    }
    return { rows, looks, verdicts: [...settled.values()], hours: this.hoursOf(rows, share), ended_early: share < 1 };
  }

  /** What the rehearsals so far say. */
  result(): Rehearsal {
    const n = Math.max(1, this.done);
    const share = (p: PairShares): PairShares => {
      const all = Math.max(1, p.correct + p.wrong + p.unresolved);
      return { ...p, correct: p.correct / all, wrong: p.wrong / all, unresolved: p.unresolved / all };
    };
    const all = [...this.pairs.values()];
    const sum = (key: 'correct' | 'wrong' | 'unresolved') => all.reduce((total, p) => total + p[key], 0);
    const judged = Math.max(1, sum('correct') + sum('wrong') + sum('unresolved'));
    return {
      count: this.done,
      correct: sum('correct') / judged,
      wrong: sum('wrong') / judged,
      unresolved: sum('unresolved') / judged,
      wrong_any: this.wrongAny / n,
      pairs: all.map(share),
      throttled: Array.from(this.throttledRuns, ([specimen, t]) => ({ specimen, share: t.throttled / Math.max(1, t.runs) })),
      hours: this.hours / n,
      early: this.early / n,
    };
  }

  /** The options of the comparison that the study itself will be judged with. */
  options(confidence: number): Partial<AnalysisOptions> {
    const { margin, scatter, one_kind = true, family, mount_sd, specimens, reference, block, rigs } = this.plan;
    return {
      ...{ margin, confidence, scatter, one_kind, family },
      // one rig parts nothing
      block: block === 'rig' && rigs < 2 ? null : block,
      default_mount_sd: mount_sd,
      reference: reference ?? specimens[0].specimen,
      chances: false,
      outlook: false,
    };
  }

  private mountsOf(specimen: string): number {
    return this.plan.specimens.find((s) => s.specimen === specimen)?.mounts ?? 0;
  }

  private drawRows(): AnalysisRow[] {
    const { specimens, runs, mount_sd, run_sd, day_sd, failure, limit_rise_k } = this.plan;
    const most = Math.max(...specimens.map((s) => s.mounts));
    const days = Array.from({ length: most }, () => (day_sd > 0 ? day_sd * this.random.normal() : 0));
    const place = (m: number) => ({ day: `day ${m}`, rig: `rig ${1 + ((m - 1) % Math.max(1, this.plan.rigs))}` });
    const rows: AnalysisRow[] = [];
    for (const s of specimens) {
      for (let m = 1; m <= s.mounts; m++) {
        let attempts = 1;
        while (failure > 0 && attempts <= ATTEMPTS && this.random.uniform() < failure) attempts++;
        if (attempts > ATTEMPTS) {
          rows.push({ ...place(m), specimen: s.specimen, mount: String(m), value: Number.NaN, valid: false, reason: LOST });
          continue;
        }
        const mount = s.rise_k + (s.mount_sd ?? mount_sd) * this.random.normal() + days[m - 1];
        for (let r = 1; r <= runs; r++) {
          const value = mount + run_sd * this.random.normal();
          const valid = limit_rise_k === null || value < limit_rise_k;
          rows.push({
            ...place(m),
            specimen: s.specimen,
            mount: String(m),
            run: String(r),
            value,
            valid,
            reason: valid ? undefined : 'throttled',
          });
        }
      }
    }
    return rows;
  }

  private hoursOf(rows: AnalysisRow[], share: number): number {
    const { specimens, runs, mount_min, run_min, failure } = this.plan;
    const minutes = specimens.reduce((sum, s) => {
      const mounts = share === 1 ? s.mounts : Math.floor(share * s.mounts + 1e-9);
      const made =
        share === 1 ? new Set(rows.filter((r) => r.specimen === s.specimen && r.reason !== LOST).map((r) => r.mount)).size : mounts;
      return sum + (mounts * mount_min) / (1 - Math.min(failure, 0.9)) + made * (runs * run_min + 60 * (s.wait_h ?? 0));
    }, 0);
    return minutes / 60;
  }

  private count(study: RehearsedStudy): void {
    const truth = new Map(this.plan.specimens.map((s) => [s.specimen, s.rise_k]));
    let wrong = false;
    for (const { pair, verdict } of study.verdicts) {
      const key = `${pair.a}\n${pair.b}`;
      const difference = (truth.get(pair.a) ?? 0) - (truth.get(pair.b) ?? 0);
      const shares = this.pairs.get(key) ?? { a: pair.a, b: pair.b, difference, correct: 0, wrong: 0, unresolved: 0 };
      this.pairs.set(key, shares);
      const outcome = judgeVerdict(verdict, difference, this.plan.margin);
      shares[outcome]++;
      if (outcome === 'wrong') wrong = true;
    }
    for (const r of study.rows) {
      if (r.reason === LOST) continue;
      const t = this.throttledRuns.get(r.specimen) ?? { runs: 0, throttled: 0 };
      this.throttledRuns.set(r.specimen, t);
      t.runs++;
      if (r.valid === false) t.throttled++;
    }
    this.done++;
    this.hours += study.hours;
    if (study.ended_early) this.early++;
    if (wrong) this.wrongAny++;
  }
}

/**
 * Is a verdict true of the supposed difference a − b? A direction must be the true one, and a claim of lying within the margin must hold.
 * Where nothing differs, every direction is wrong.
 */
export function judgeVerdict(verdict: Verdict, difference: number, margin: number): 'correct' | 'wrong' | 'unresolved' {
  const small = Math.abs(difference) < margin;
  switch (verdict) {
    case 'unresolved':
      return 'unresolved';
    case 'tied':
      return small ? 'correct' : 'wrong';
    case 'cooler':
      return difference < 0 ? 'correct' : 'wrong';
    case 'warmer':
      return difference > 0 ? 'correct' : 'wrong';
    case 'cooler_within_margin':
      return difference < 0 && small ? 'correct' : 'wrong';
    case 'warmer_within_margin':
      return difference > 0 && small ? 'correct' : 'wrong';
  }
}

/**
 * Rehearses a plan in one go.
 * @example rehearse(plan, 2000, 1).wrong_any // share of studies with a wrong verdict
 */
export function rehearse(plan: RehearsalPlan, count: number, seed: number): Rehearsal {
  const rehearser = new Rehearser(plan, seed);
  rehearser.step(count);
  return rehearser.result();
}
