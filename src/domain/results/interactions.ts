import { analyse } from '#core/compare/analyse';
import { differenceOfDifferences, loadDifferences } from '#core/compare/differenceOfDifferences';
import { write } from '#core/compare/number';
import { OUTCOMES } from '#core/compare/outcomes';
import { optionsFor, rowsFor } from './choice';
import { compareStudy } from './compare';
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
  p: number;
  sentence: string;
}

/**
 * Differences of differences against the reference, between the first load and each other (within mounts, which both loads share), and
 * between the first rig and each other (mounts apart).
 */
export function interactions(facts: StudyFacts, choice: ResultsChoice): Interaction[] {
  return [...byLoad(facts, choice), ...byRig(facts, choice)];
}

function byLoad(facts: StudyFacts, choice: ResultsChoice): Interaction[] {
  const [first, ...others] = facts.loads;
  if (others.length === 0 || facts.reference === null) return [];
  return others.flatMap((second) => {
    const rows = loadDifferences(rowsFor(facts, { ...choice, load: first }), rowsFor(facts, { ...choice, load: second }));
    if (new Set(rows.map((r) => r.specimen)).size < 2 || !rows.some((r) => r.specimen === facts.reference)) return [];
    const { pairs } = analyse(rows, { ...optionsFor(facts, choice), family: 'reference', block: null, chances: false });
    return pairs.flatMap((p) =>
      p.ci && p.p_adjusted !== null ? [tell(choice, { by: 'load', first, second, specimen: p.a, value: p.difference, ci: p.ci, p: p.p_adjusted }, facts)] : [],
    );
  });
}

function byRig(facts: StudyFacts, choice: ResultsChoice): Interaction[] {
  const [first, ...others] = [...new Set(facts.runs.map((r) => r.rig))];
  if (others.length === 0) return [];
  const on = (rig: string) => compareStudy({ ...facts, runs: facts.runs.filter((r) => r.rig === rig) }, { ...choice, family: 'reference', block: null });
  const base = on(first);
  return others.flatMap((second) => {
    const other = on(second);
    return (base?.pairs ?? []).flatMap((p) => {
      const q = other?.pairs.find((x) => x.a === p.a && x.b === p.b);
      if (!q || q.b !== facts.reference) return [];
      const d = differenceOfDifferences(p, q, facts.confidence);
      return [tell(choice, { by: 'rig', first, second, specimen: p.a, value: d.value, ci: d.ci, p: d.p }, facts)];
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
  return {
    ...i,
    sentence: told
      ? `${i.specimen} gains ${write(size, digits)} ${unit} more over ${facts.reference} ${where} ${helped[0]} than ${where} ${helped[1]} (${interval}).`
      : `Whether ${i.specimen} gains more ${where} ${i.first} or ${where} ${i.second} is not told: ${write(size, digits)} ${unit} apart (${interval}).`,
  };
}
