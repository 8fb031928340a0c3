import { OUTCOMES } from '#core/compare/outcomes';
import type { AnalysedPair, Analysis } from '#core/compare/types';
import { midSentence, plural, write } from '#core/text/words';
import { type AxisRange, axisRange } from '#core/units/axisRange';
import type { LevelScale } from './levelScale';

/** A specimen's place on a ladder. */
interface PlacedRung {
  name: string;
  mean: number;
  ci: [number, number] | null;
  mounts: { value: number | null }[];
}

/** Pairs with the reference in the order of the ladder. */
export function bestFirst(
  pairs: AnalysedPair[],
  reference: string | null,
  rungs: PlacedRung[],
  better: 'lower' | 'higher',
): AnalysedPair[] {
  const mean = new Map(rungs.map((r) => [r.name, r.mean]));
  const at = (p: AnalysedPair) => (better === 'lower' ? 1 : -1) * (mean.get(p.a === reference ? p.b : p.a) ?? 0);
  return [...pairs].sort((p, q) => at(p) - at(q));
}

/** Axis of a ladder: its means with their intervals, its mounts, and the margin about the reference. */
export function rungRange(rungs: PlacedRung[], reference: string | null, margin: number): AxisRange {
  const centre = rungs.find((r) => r.name === reference)?.mean;
  return axisRange(
    [
      ...rungs.flatMap((r) => [r.mean, ...(r.ci ?? [])]),
      ...rungs.flatMap((r) => r.mounts.flatMap((m) => m.value ?? [])),
      ...(centre === undefined ? [] : [centre - margin, centre + margin]),
    ],
    margin / 2,
  );
}

/** The best specimen against the reference, or against the runner-up where it is the reference itself. */
export function headlineOf(analysis: Analysis, pairs: AnalysedPair[], scale: LevelScale): string {
  const { digits, better, name } = OUTCOMES[analysis.outcome];
  const ordered = [...analysis.specimens].sort((a, b) => (better === 'lower' ? 1 : -1) * (a.mean - b.mean));
  if (ordered.length === 1) {
    const [only] = ordered;
    const value = `${write(only.mean + scale.plus, digits)} ${scale.unit}`;
    const says = analysis.outcome === 'rise' ? `runs ${value}${scale.behind}` : `reads ${value} (${midSentence(name)})`;
    return `${only.specimen} ${says} (${plural(only.mounts, 'mount')}); nothing to compare it with yet.`;
  }
  const has = (p: AnalysedPair, who: string) => p.a === who || p.b === who;
  const [best, second] = ordered;
  const pair = pairs.find((p) => has(p, best.specimen) && p.a !== p.b && (analysis.reference !== best.specimen || has(p, second.specimen)));
  return pair?.sentence ?? analysis.sentences[0] ?? 'Nothing can be compared yet: see the findings.';
}

/** Parts a verdict sentence into its claim and what it rests on, so that the claim can stand large. */
export function splitSentence(sentence: string): { claim: string; basis: string } {
  const at = sentence.indexOf(' (', sentence.startsWith('Assuming') ? sentence.indexOf(': ') : 0);
  return at < 0 ? { claim: sentence, basis: '' } : { claim: sentence.slice(0, at), basis: sentence.slice(at + 1) };
}
