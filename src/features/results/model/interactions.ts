import { analyse } from '#core/compare/analyse';
import { differenceOfDifferences, loadDifferences } from '#core/compare/differenceOfDifferences';
import { OUTCOMES } from '#core/compare/outcomes';
import { write } from '#core/text/words';
import { compareStudy, optionsFor, rowsFor } from './choice';
import type { ResultsChoice, StudyFacts } from './facts';

/** Did the change from the reference to a specimen help under one load, or on one rig, more than another? */
export interface Interaction {
  by: 'load' | 'rig';
  first: string;
  second: string;
  specimen: string;
  /** (specimen − reference) under the first less the same under the second */
  value: number;
  ci: [number, number];
  /** adjusted for all that are told */
  p: number;
  /** a specimen or the reference has one mount there, so that its scatter is not measured */
  assumed: boolean;
  sentence: string;
}

/**
 * Differences of differences against the reference, between the first load and each other (within mounts, which both loads share), and
 * between the first rig and each other (mounts apart). All that are told hold together: each other load or rig has its share of the error.
 */
export function interactions(facts: StudyFacts, choice: ResultsChoice): Interaction[] {
  const rigs = [...new Set(facts.runs.map((r) => r.rig))];
  const parts = Math.max(0, facts.loads.length - 1) + Math.max(0, rigs.length - 1);
  if (parts === 0) return [];
  return [...byLoad(facts, choice, parts), ...byRig(facts, choice, rigs, parts)];
}

/** @param parts other loads and rigs, among which the error is shared out */
function byLoad(facts: StudyFacts, choice: ResultsChoice, parts: number): Interaction[] {
  const [first, ...others] = facts.loads;
  if (others.length === 0 || facts.reference === null) return [];
  const confidence = 1 - (1 - facts.confidence) / parts;
  return others.flatMap((second) => {
    const rows = loadDifferences(rowsFor(facts, { ...choice, load: first }), rowsFor(facts, { ...choice, load: second }));
    if (new Set(rows.map((r) => r.specimen)).size < 2 || !rows.some((r) => r.specimen === facts.reference)) return [];
    const { pairs, specimens } = analyse(rows, {
      ...optionsFor(facts, choice),
      family: 'reference',
      block: null,
      chances: false,
      outlook: false,
      confidence,
    });
    return pairs.flatMap((p) => {
      if (!p.ci || p.p_adjusted === null) return [];
      const assumed = specimens.some((s) => s.mounts < 2 && (s.specimen === p.a || s.specimen === p.b));
      return [
        tell(
          choice,
          { by: 'load', first, second, specimen: p.a, value: p.difference, ci: p.ci, p: Math.min(1, parts * p.p_adjusted), assumed },
          facts,
        ),
      ];
    });
  });
}

/** @param parts other loads and rigs, among which the error is shared out */
function byRig(facts: StudyFacts, choice: ResultsChoice, [first, ...others]: string[], parts: number): Interaction[] {
  if (others.length === 0) return [];
  const on = (rig: string) =>
    compareStudy({ ...facts, runs: facts.runs.filter((r) => r.rig === rig) }, { ...choice, family: 'reference', block: null });
  const base = on(first);
  return others.flatMap((second) => {
    const other = on(second);
    const both = (base?.pairs ?? []).flatMap((p) => {
      const q = other?.pairs.find((x) => x.a === p.a && x.b === p.b);
      return q && q.b === facts.reference && p.ci && q.ci ? [{ p, q }] : [];
    });
    // no one scatter joins the pairs of two rigs: Bonferroni over all of them
    const told = parts * both.length;
    return both.map(({ p, q }) => {
      const d = differenceOfDifferences(p, q, 1 - (1 - facts.confidence) / told);
      const assumed = [base, other].some((a) => a?.specimens.some((s) => s.mounts < 2 && (s.specimen === p.a || s.specimen === p.b)));
      return tell(
        choice,
        { by: 'rig', first, second, specimen: p.a, value: d.value, ci: d.ci, p: Math.min(1, told * d.p), assumed },
        facts,
      );
    });
  });
}

function tell(choice: ResultsChoice, i: Omit<Interaction, 'sentence'>, facts: StudyFacts): Interaction {
  const { unit, digits, better } = OUTCOMES[choice.outcome];
  const where = i.by === 'load' ? 'under' : 'on';
  const helped = (better === 'lower' ? i.value < 0 : i.value > 0) ? [i.first, i.second] : [i.second, i.first];
  const size = Math.abs(i.value);
  const [low, high] = i.value < 0 ? [-i.ci[1], -i.ci[0]] : i.ci;
  const interval = `${Number((100 * facts.confidence).toFixed(1))} % ${write(low, digits)} to ${write(high, digits)}`;
  const told = i.ci[0] > 0 || i.ci[1] < 0;
  const opening = i.assumed ? `With one mount only ${where} ${i.first} or ${i.second} the scatter between mounts is assumed: ` : '';
  const whether = i.assumed ? 'whether' : 'Whether';
  return {
    ...i,
    sentence: told
      ? `${opening}${i.specimen} gains ${write(size, digits)} ${unit} more over ${facts.reference} ${where} ${helped[0]} than ${where} ${helped[1]} (${interval}).`
      : `${opening}${whether} ${i.specimen} gains more ${where} ${i.first} or ${where} ${i.second} is not settled: ${write(size, digits)} ${unit} apart (${interval}).`,
  };
}
