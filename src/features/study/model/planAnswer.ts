import type { AnalysisRow } from '#core/compare/rows';
import { type LookState, lookAt } from '#core/design/looks';
import { type CurvePoint, mountsCurve, mountsForMargin } from '#core/design/mountsCurve';
import type { PlannedMount } from '#core/design/orderTypes';
import { type Look, planLooks } from '#core/design/spending';
import { timeOrder } from '#core/design/timeline';
import type { PlanFinding } from '#core/design/types';
import type { PlanContext } from './context';
import { planFindings } from './findings';
import { type ResolvedPlan, resolvePlan } from './resolve';
import type { StudyPlan } from './studyPlan';

/** What statistics say to a plan: its curve, the mounts it takes, what stands against it, and the levels of its looks. */
export interface PlanAnswer {
  /** what each number of mounts from 2 can tell; empty below two specimens */
  points: CurvePoint[];
  /** mounts of each that find the margin; null where no reachable number does */
  needed: number | null;
  findings: PlanFinding[];
  /** planned looks and the end, as numbers of blocks with their levels; empty without looks */
  looks: (Look & { block: number })[];
  /** what the runs so far settle; null before the second complete block */
  settled: LookState | null;
}

/** mounts the curve goes to, and at most with the planned number */
const CURVE_TO = 12;
const CURVE_MOST = 24;

/** Answers a plan. Slow enough (some 20 ms) to be asked in a worker while one types. */
export function answerPlan(plan: StudyPlan, context: PlanContext, mounts: PlannedMount[], rows: AnalysisRow[]): PlanAnswer {
  const resolved = resolvePlan(plan, context);
  const { comparison, said, order } = resolved;
  const ready = comparison.specimens >= 2;
  const timed = order && mounts.length > 0 ? timeOrder(order, mounts) : null;
  const blocks = [...new Set(said.looks)].filter((b) => b < said.mounts).sort((a, b) => a - b);
  const levels =
    blocks.length > 0
      ? planLooks(
          [...blocks, said.mounts].map((b) => b / said.mounts),
          1 - comparison.confidence,
        )
      : [];
  return {
    points: ready ? mountsCurve(comparison, Math.max(CURVE_TO, Math.min(said.mounts, CURVE_MOST))) : [],
    needed: ready ? (mountsForMargin(comparison)?.n ?? null) : null,
    findings: planFindings(resolved, timed, context.today),
    looks: levels.map((l, i) => ({ ...l, block: [...blocks, said.mounts][i] })),
    settled: settledBy(rows, resolved, blocks),
  };
}

function settledBy(rows: AnalysisRow[], { said, specimens, reference, comparison }: ResolvedPlan, looks: number[]): LookState | null {
  // looks are settled by rises
  if (specimens.length < 2 || comparison.unit !== undefined) return null;
  return lookAt(
    rows,
    { specimens: specimens.map((s) => s.name), mounts: said.mounts, looks },
    {
      ...{ margin: said.margin_k, confidence: said.confidence, family: said.family, outcome: 'rise' },
      ...{ scatter: comparison.scatter, one_kind: comparison.one_kind },
      ...(reference ? { reference: reference.name } : {}),
    },
  );
}
