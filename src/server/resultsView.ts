import type { AnalysedPair, Analysis } from '#core/compare/analyse';
import { write } from '#core/compare/number';
import { type KelvinRange, kelvinRange } from '#core/units/kelvinRange';
import type { MountFigure, StudyLevel, StudyResults } from './studyResults';

export interface ResultsView {
  headline: { claim: string; basis: string };
  rungs: { name: string; position: number; mean: number; ci: [number, number] | null; group: string; mounts: MountFigure[] }[];
  /** specimens without a valid run, with what is known of them */
  unplaced: string[];
  sentences: string[];
  others: string[];
  /** which school the verdicts follow, and why */
  school: string;
  /** at which planned look the verdicts stand; empty where none was planned */
  look: string;
  /** what would change under the other school */
  leaning: string;
}

/** Range of the kelvin axis of a study, for its rail and its ladder: means, intervals, mounts, the margin around the reference, and what is supposed of those not measured. */
export function studyRange({ analysis, mounts, reference, study, specimens }: StudyResults): KelvinRange {
  const means = analysis?.specimens ?? [];
  const centre = means.find((s) => s.specimen === reference)?.mean;
  return kelvinRange([
    ...means.flatMap((s) => [s.mean, ...(s.ci ?? [])]),
    ...specimens.flatMap((s) => (means.some((m) => m.specimen === s.name) ? [] : (s.plan.rise_k ?? []))),
    ...mounts.flatMap((m) => m.value ?? []),
    ...(centre === undefined ? [] : [centre - study.margin_k, centre + study.margin_k]),
  ]);
}

/** Arranges a comparison for the results place; null while there is nothing to compare. */
export function arrangeResults({ analysis, specimens, mounts, reference, level }: StudyResults): ResultsView | null {
  if (!analysis) return null;
  const placed = new Map(analysis.specimens.map((s) => [s.specimen, s]));
  const rungs = specimens.flatMap((s) => {
    const a = placed.get(s.name);
    return a ? [{ name: s.name, position: s.position, mean: a.mean, ci: a.ci, group: a.group, mounts: mounts.filter((m) => m.specimen === s.name) }] : [];
  });
  const withReference = analysis.pairs.filter((p) => p.a === reference || p.b === reference);
  const main = withReference.length > 0 ? withReference : analysis.pairs;
  return {
    headline: splitSentence(headlineOf(analysis, main)),
    rungs,
    unplaced: describeUnplaced(
      specimens.filter((s) => !placed.has(s.name)),
      mounts,
    ),
    sentences: main.map((p) => p.sentence),
    others: analysis.pairs.filter((p) => !main.includes(p)).map((p) => p.sentence),
    school: schoolSentence(analysis),
    look: lookSentence(level),
    leaning: leaningSentence(analysis.pairs),
  };
}

/** The coolest specimen against the reference, or against the runner-up where it is the reference itself. */
function headlineOf(analysis: Analysis, pairs: AnalysedPair[]): string {
  const ordered = [...analysis.specimens].sort((a, b) => a.mean - b.mean);
  if (ordered.length === 1) {
    const [only] = ordered;
    return `${only.specimen} runs ${write(only.mean, 1)} K over ambient (${only.mounts} ${only.mounts === 1 ? 'mount' : 'mounts'}); nothing to compare it with yet.`;
  }
  const has = (p: AnalysedPair, name: string) => p.a === name || p.b === name;
  const [coolest, second] = ordered;
  const pair = pairs.find((p) => has(p, coolest.specimen) && p.a !== p.b && (analysis.reference !== coolest.specimen || has(p, second.specimen)));
  return pair?.sentence ?? analysis.sentences[0];
}

/** Parts a verdict sentence into its claim and what it rests on, so that the claim can stand large. */
function splitSentence(sentence: string): { claim: string; basis: string } {
  const at = sentence.indexOf(' (');
  return at < 0 ? { claim: sentence, basis: '' } : { claim: sentence.slice(0, at), basis: sentence.slice(at + 1) };
}

/** Specimens without a valid run, each with the bound that its throttled runs give. */
export function describeUnplaced(specimens: { name: string }[], mounts: MountFigure[]): string[] {
  return specimens.map(({ name }) => {
    const bounds = mounts.filter((m) => m.specimen === name).flatMap((m) => m.at_or_above ?? []);
    return bounds.length > 0 ? `${name}, throttled at or above ${write(Math.max(...bounds), 1)} K` : name;
  });
}

function schoolSentence({ scatter, specimens }: Analysis): string {
  if (scatter.pooled_sd === null) return 'No specimen has two mounts yet, so the scatter between mounts is assumed; remounting tells it.';
  const fewest = Math.min(...specimens.map((s) => s.mounts));
  const test = scatter.brown_forsythe_p === null ? '' : ` Brown–Forsythe test for equal scatter: p = ${write(scatter.brown_forsythe_p, 3)}.`;
  return scatter.school === 'pooled'
    ? `Verdicts use one pooled scatter for all specimens, as the least measured has ${fewest} ${fewest === 1 ? 'mount' : 'mounts'}; it is exact where scatter is alike.${test}`
    : `Verdicts use each specimen's own scatter, as all have ${fewest} mounts or more; with few mounts such intervals are wide.${test}`;
}

/** What looking before the end costs in confidence. */
function lookSentence({ looks, blocks_done, blocks_planned, confidence, spent }: StudyLevel): string {
  if (looks.length === 0) return '';
  const percent = (v: number) => `${Number((100 * v).toFixed(2))} %`;
  const when = blocks_done >= blocks_planned ? 'All planned blocks are in' : `Interim look: ${blocks_done} of ${blocks_planned} blocks are in`;
  return `${when}. Verdicts are judged with ${percent(confidence)} confidence, as looks were planned after block ${looks.join(' and ')}; ${percent(spent)} of the error is spent.`;
}

function leaningSentence(pairs: AnalysedPair[]): string {
  const leaning = pairs.filter((p) => p.pooled && p.separate && !p.firm);
  if (leaning.length === 0) return '';
  const names = leaning.map((p) => `${p.a} and ${p.b}`);
  return `The other school would judge ${leaning.length} of ${pairs.length} pairs differently: ${names.join('; ')}.`;
}
