import { boundWords, OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';
import type { AnalysedPair, Analysis } from '#core/compare/types';
import { plural, write } from '#core/text/words';
import type { AxisRange } from '#core/units/axisRange';
import { boundOfMount, rankSentences } from './bounds';
import { type ChangedVerdict, changedVerdicts, compareStudy, knownOutcomes, marginFor, studyChoice } from './choice';
import type { ResultsChoice, StudyFacts } from './facts';
import { type MountFigure, mountFigures } from './figures';
import { bestFirst, headlineOf, rungRange, splitSentence } from './headline';
import { type Interaction, interactions } from './interactions';
import { type LevelScale, levelScale } from './levelScale';
import { type ReferenceDrift, referenceDrift } from './referenceDrift';

export interface Rung {
  name: string;
  position: number;
  mean: number;
  ci: [number, number] | null;
  group: string;
  mounts: MountFigure[];
}

/** A comparison in words and marks. */
export interface ArrangedResults {
  choice: ResultsChoice;
  analysis: Analysis | null;
  headline: { claim: string; basis: string };
  rungs: Rung[];
  range: AxisRange;
  margin: number;
  /** on which the levels of rungs, figures and range stand */
  scale: LevelScale;
  /** specimens without a valid run, with what is known of them */
  unplaced: string[];
  /** positions of the pairs with the reference, or of all where there is none, best first */
  main: number[];
  /** which school the verdicts follow, and why */
  school: string;
  /** what would change under the other school */
  leaning: string;
  /** every mount with its value */
  figures: MountFigure[];
  /** pairs with mounts of which only a bound is known, by rank */
  ranks: string[];
}

/** A comparison as the results place tells it. */
export interface ResultsAnswer extends ArrangedResults {
  interactions: Interaction[];
  /** the reference over the days; null with fewer than two of its mounts */
  drift: ReferenceDrift | null;
  /** outcomes to choose from */
  outcomes: OutcomeKey[];
  /** which sentences differ from those under the study's own settings */
  changed: ChangedVerdict[];
  /** which would differ with what a person left out included again; null where nothing was left out */
  restored: ChangedVerdict[] | null;
  /** runs that need a decision, and which sentences would differ with them as they stand; null where none does */
  undecided: { runs: { run_id: number; name: string; codes: string[] }[]; changed: ChangedVerdict[] } | null;
}

/**
 * Compares a study under a choice and puts it into words and marks; the same on the server and in the browser.
 * @param chances whether to draw the chances of being best, which takes the most time
 */
export function answerResults(facts: StudyFacts, choice: ResultsChoice, confidence = facts.confidence, chances = true): ResultsAnswer {
  const analysis = compareStudy(facts, choice, confidence, chances);
  const own = studyChoice(facts);
  const base = { ...choice, scatter: own.scatter, family: own.family, block: own.block, with_excluded: false };
  const isBase = JSON.stringify(base) === JSON.stringify(choice);
  const waiting = facts.runs.filter((r) => r.undecided.length > 0 && !r.censored && r.mount_reason === null && r.run_reason === null);
  const isCut = facts.runs.some((r) => r.mount_reason !== null || r.run_reason !== null);
  return {
    ...arrange(facts, choice, analysis),
    interactions: interactions(facts, choice),
    drift: referenceDrift(facts, choice),
    outcomes: knownOutcomes(facts),
    changed: isBase ? [] : changedVerdicts(compareStudy(facts, base, confidence), analysis),
    restored: isCut
      ? changedVerdicts(analysis, compareStudy(facts, { ...choice, with_excluded: !choice.with_excluded }, confidence))
      : null,
    undecided:
      waiting.length === 0
        ? null
        : {
            runs: waiting.map((r) => ({ run_id: r.run_id, name: `${r.specimen}, mount ${r.mount}, run ${r.run}`, codes: r.undecided })),
            changed: changedVerdicts(analysis, compareStudy(facts, { ...choice, with_undecided: true }, confidence)),
          },
  };
}

/** Puts a comparison into words and marks. */
export function arrange(facts: StudyFacts, choice: ResultsChoice, analysis: Analysis | null): ArrangedResults {
  const scale = levelScale(facts.ambient_school, choice.outcome, choice.sensor);
  const shown = (v: number) => v + scale.plus;
  const orNull = (v: number | null) => (v === null ? null : shown(v));
  const figures = mountFigures(facts, choice).map((m) => ({
    ...m,
    ...{ value: orNull(m.value), at_or_above: orNull(m.at_or_above), left_out_value: orNull(m.left_out_value) },
  }));
  const placed = new Map(analysis?.specimens.map((s) => [s.specimen, s]));
  const rungs = facts.specimens.flatMap((s): Rung[] => {
    const a = placed.get(s.name);
    return a
      ? [
          {
            name: s.name,
            position: s.position,
            mean: shown(a.mean),
            ci: a.ci && [shown(a.ci[0]), shown(a.ci[1])],
            group: a.group,
            mounts: figures.filter((m) => m.specimen === s.name),
          },
        ]
      : [];
  });
  const margin = marginFor(facts, choice.outcome, choice.sensor);
  const all = analysis?.pairs ?? [];
  const withReference = all.filter((p) => p.a === facts.reference || p.b === facts.reference);
  const main = bestFirst(withReference.length > 0 ? withReference : all, facts.reference, rungs, OUTCOMES[choice.outcome].better);
  return {
    ...{ choice, analysis, rungs, margin, figures, scale },
    main: main.map((p) => all.indexOf(p)),
    headline: analysis ? underLoad(facts, choice, splitSentence(headlineOf(analysis, main, scale))) : { claim: '', basis: '' },
    range: rungRange(rungs, facts.reference, margin),
    ranks: rankSentences(choice, figures, toldPairs(facts)),
    unplaced: describeUnplaced(
      facts.specimens.filter((s) => !placed.has(s.name)),
      figures,
      choice,
      scale,
    ),
    school: analysis ? schoolSentence(analysis) : '',
    leaning: analysis ? leaningSentence(analysis.pairs) : '',
  };
}

/** A claim of a study with several loads names the one it holds under. */
const underLoad = ({ loads }: StudyFacts, { load }: ResultsChoice, { claim, basis }: ArrangedResults['headline']) =>
  loads.length > 1 && load !== null ? { claim: `Under ${load}, ${claim}`, basis } : { claim, basis };

/** The pairs with the reference, or all where there is none. */
function toldPairs({ reference, specimens }: StudyFacts): [string, string][] {
  const names = specimens.map((s) => s.name);
  if (reference !== null) return names.filter((n) => n !== reference).map((n) => [reference, n]);
  return names.flatMap((a, i) => names.slice(i + 1).map((b): [string, string] => [a, b]));
}

/** Specimens without a valid run, each with the bound that its throttled runs give. */
function describeUnplaced(
  specimens: { name: string }[],
  figures: MountFigure[],
  { outcome }: ResultsChoice,
  { unit }: LevelScale,
): string[] {
  const { digits } = OUTCOMES[outcome];
  return specimens.map(({ name }) => {
    const bounds = figures.filter((m) => m.specimen === name).flatMap((m) => boundOfMount(m) ?? []);
    if (bounds.length === 0) return name;
    const [{ side }] = bounds;
    const ends = bounds.filter((b) => b.side === side).map((b) => b.at);
    const { did, from } = boundWords(outcome, side);
    const why = outcome === 'time_to_event' ? from : `${did} ${from}`;
    return `${name}, ${why} ${write(side === 'above' ? Math.max(...ends) : Math.min(...ends), digits)} ${unit}`;
  });
}

function schoolSentence({ scatter, specimens, block }: Analysis): string {
  if (scatter.pooled_sd === null) return 'No specimen has two mounts yet, so the scatter between mounts is assumed; remount to measure it.';
  const blocks = block ? { day: 'bench days', rig: 'rigs', 'rig-day': 'rigs on their days' }[block] : null;
  const fewest = Math.min(...specimens.map((s) => s.mounts));
  const test =
    scatter.brown_forsythe_p === null ? '' : ` Brown–Forsythe test for equal scatter: p = ${write(scatter.brown_forsythe_p, 3)}.`;
  const effect = blocks && scatter.block_p !== null ? ` The ${blocks} differ with p = ${write(scatter.block_p, 3)}.` : '';
  if (blocks)
    return scatter.school === 'pooled'
      ? `The comparison is adjusted for the ${blocks}, with one pooled scatter for all.${effect}`
      : `Verdicts use the differences within the ${blocks}, each pair with its own scatter.${effect}`;
  return scatter.school === 'pooled'
    ? `Verdicts use one pooled scatter for all specimens, because the least measured has ${plural(fewest, 'mount')}; it is exact where all scatter equally.${test}`
    : scatter.school === 'strict'
      ? `Verdicts use each specimen's own scatter, with limits that keep the error rate for ${specimens.length} specimens on ${plural(fewest, 'mount')} or more (Dunnett's T3).${test}`
      : `Verdicts use each specimen's own scatter, as all have ${fewest} mounts or more; with few mounts such intervals are wide.${test}`;
}

function leaningSentence(pairs: AnalysedPair[]): string {
  const leaning = pairs.filter((p) => p.pooled && p.separate && !p.firm);
  if (leaning.length === 0) return '';
  const names = leaning.map((p) => `${p.a} and ${p.b}`);
  return `Another method would judge ${leaning.length} of ${pairs.length} pairs differently: ${names.join('; ')}.`;
}
