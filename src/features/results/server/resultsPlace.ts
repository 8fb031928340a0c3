import { database, unlessUnwritten } from '#app/database/pool';
import { OUTCOMES } from '#core/compare/outcomes';
import { type Worth, worthOf } from '#core/compare/worth';
import type { RiseInstrument } from '#core/stats/uncertainty/riseBudget';
import { listGrid } from '#features/mount/store/attempts';
import type { BeforeAfter } from '#features/results/model/beforeAfter';
import { type StudyBudget, studyBudget } from '#features/results/model/budget';
import { leadingChoice } from '#features/results/model/choice';
import type { StudyFacts } from '#features/results/model/facts';
import { arrange, type ResultsAnswer } from '#features/results/model/resultsAnswer';
import { noteVerdictsShown } from '#features/results/store/verdictsShown';
import type { PlanContext, PlanRig } from '#features/study/model/context';
import { type StateCost, studyCost } from '#features/study/model/cost';
import { type ResolvedPlan, resolvePlan } from '#features/study/model/resolve';
import { answerTo } from '#features/study/server/keptAnswers';
import { planContext, planOf } from '#features/study/server/planView';
import { getPlan } from '#features/study/store/plans';
import { compareUnder, gatherStudy, type StudyLevel, type StudyResults } from './studyResults';
import { resultsThreads } from './tasks';

interface ResultsPlace {
  results: StudyResults;
  /** with what each specimen costs, and how often it failed */
  facts: StudyFacts;
  answer: ResultsAnswer;
  worth: Worth[];
  before_after: BeforeAfter[];
  budget: StudyBudget | null;
}

/** Everything the results place and the report of a study tell. */
export async function resultsPlace(id: number): Promise<ResultsPlace> {
  const db = database();
  const [gathered, row, context, grid] = await Promise.all([gatherStudy(id), getPlan(db, id), planContext(id, db), listGrid(db, id)]);
  const plan = row && resolvePlan(planOf(row), context);
  const facts = plan ? withWorth(gathered.facts, plan, context, grid) : gathered.facts;
  const leading = leadingChoice(facts);
  const asked = { facts, choice: leading, confidence: gathered.level.confidence };
  const answer = await answerTo(id, 'answer', asked, () => resultsThreads.answer(asked));
  // where something else is told first, the rise is compared besides
  const isRise = leading.outcome === gathered.choice.outcome;
  const analysis = isRise ? answer.analysis : await compareUnder(gathered, gathered.choice);
  const lead = isRise || !answer.analysis ? null : { choice: leading, analysis: answer.analysis };
  const results: StudyResults = { ...gathered, analysis, lead };
  // worth and budget are those of the rise, whatever is told first
  const means = new Map(results.analysis?.specimens.map((s) => [s.specimen, s.mean]));
  const priced = facts.specimens.flatMap((s) => {
    const value = means.get(s.name);
    return s.cost === null || value === undefined ? [] : [{ specimen: s.name, cost: s.cost, value }];
  });
  return {
    ...{ results, facts, answer },
    worth: worthOf(priced, facts.reference, OUTCOMES[gathered.choice.outcome].better),
    before_after:
      facts.design === 'before_after' ? await answerTo(id, 'before_after', facts, () => resultsThreads.beforeAndAfter(facts)) : [],
    // what a thermometer is off by says nothing about clocks, times or scores
    budget: results.analysis && gathered.choice.outcome === 'rise' ? studyBudget(facts, results.analysis) : null,
  };
}

/**
 * Notes that the verdicts of a study were shown once all its planned mounts were run: mounts added from here on are added with them known.
 */
export async function noteShown({ results, facts }: ResultsPlace): Promise<void> {
  const made = (name: string) => new Set(facts.runs.filter((r) => r.specimen === name).map((r) => r.mount_id)).size;
  const isFinished = facts.specimens.every((s) => s.mounts_planned > 0 && made(s.name) >= s.mounts_planned);
  if (!results.analysis || !isFinished || results.level.looks.length > 0) return;
  await noteVerdictsShown(database(), facts.study_id, new Set(facts.runs.map((r) => r.mount_id)).size).catch(unlessUnwritten);
}

function withWorth(facts: StudyFacts, plan: ResolvedPlan, context: PlanContext, grid: Awaited<ReturnType<typeof listGrid>>): StudyFacts {
  const cost = studyCost(plan, plan.said.mounts);
  const rigs = plan.rigs.length > 0 ? plan.rigs : context.rigs.filter((r) => facts.runs.some((f) => f.rig === r.name));
  return {
    ...facts,
    currency: cost.currency,
    years: plan.said.years ?? null,
    instruments: rigs.slice(0, 1).flatMap(instrumentsOf),
    specimens: facts.specimens.map((s) => {
      const state = cost.states.find((c) => c.id === s.id);
      const mounts = grid.filter((m) => m.specimen_id === s.id);
      return {
        ...s,
        cost: state ? costOf(state, s.kind) : null,
        minutes: plan.said.mount_min + (plan.specimens.find((p) => p.id === s.id)?.plan.effort_min ?? 0),
        tries: mounts.reduce((n, m) => n + m.attempts, 0),
        failed: mounts.reduce((n, m) => n + m.failed, 0),
        mounts_planned: plan.specimens.find((p) => p.id === s.id)?.mounts ?? 0,
      };
    }),
  };
}

/** What a reader pays for a specimen; null where it has no price. */
function costOf(state: StateCost, kind: string): number | null {
  const isPriced = state.material !== null || kind === 'state' || (kind === 'cooler' && state.once > 0);
  if (!isPriced) return null;
  if (state.over_years !== null) return state.over_years;
  // tools and a cooler are bought for one mount as for ten
  return state.a_mount + (kind === 'state' || kind === 'cooler' ? state.once : state.once / Math.max(1, state.mounts));
}

/** The thermometers of a rig that a rise rests on: the part's own sensors, and what reads the room. */
function instrumentsOf({ sheet, instruments }: PlanRig): RiseInstrument[] {
  const room = instruments.filter((i) => i.sheet.reads === 'temperature');
  return [
    ...(sheet.sensor_resolution_k == null
      ? []
      : [
          {
            name: 'Sensors of the part',
            reads: 'sensor' as const,
            accuracy_k: sheet.sensor_accuracy_k ?? null,
            resolution_k: sheet.sensor_resolution_k,
          },
        ]),
    ...room.map((i) => ({
      name: i.name,
      reads: 'ambient' as const,
      accuracy_k: i.sheet.accuracy ?? null,
      resolution_k: i.sheet.resolution ?? null,
    })),
  ];
}

type ResultsView = ReturnType<typeof arrange>;

/** A study's own comparison in words, for the tables of the bench and the studies; null while there is nothing to compare. */
export function arrangeResults({ facts, choice, analysis, lead }: StudyResults): ResultsView | null {
  if (lead) return arrange(facts, lead.choice, lead.analysis);
  return analysis ? arrange(facts, choice, analysis) : null;
}

/** What looking before the end costs in confidence; empty where no look was planned. */
export function lookSentence({ looks, blocks_done, blocks_planned, confidence, spent }: StudyLevel): string {
  if (looks.length === 0) return '';
  const percent = (v: number) => `${Number((100 * v).toFixed(2))} %`;
  const when =
    blocks_done >= blocks_planned
      ? 'All planned mounts are in'
      : `Interim analysis: ${blocks_done} of ${blocks_planned} mounts of each are in`;
  return `${when}. Verdicts are judged with ${percent(confidence)} confidence, as interim analyses were planned after ${looks.join(' and ')} mounts of each; ${percent(spent)} of the error is spent.`;
}
