import { blockEffect, fitBlocks } from './blockModel';
import { ENOUGH_DF } from './borrowedScatter';
import { linkedComponents } from './components';
import type { States } from './fixedStates';
import type { Model } from './model';
import type { OneWayFit } from './oneWay';
import { type BoundSide, boundWords, type OutcomeKey } from './outcomes';
import { type AnalysisRow, mountValues } from './rows';
import type { AnalysisOptions, Finding } from './types';

/** A reference that is none of the specimens is refused; one without a valid mount is told. */
export function requireReference(
  reference: string,
  fit: OneWayFit,
  rows: AnalysisRow[],
  options: AnalysisOptions,
  findings: Finding[],
): void {
  if (fit.groups.some((g) => g.specimen === reference)) return;
  if (options.reference !== undefined && !rows.some((r) => r.specimen === reference))
    throw new Error(`The reference ${reference} is not among the specimens (${fit.groups.map((g) => g.specimen).join(', ')}).`);
  findings.push({
    code: 'reference_missing',
    severity: 'warn',
    message: `The reference ${reference} has no valid mount yet, so nothing is compared with it.`,
  });
}

/**
 * Rigs must cross the specimens, directly or by a chain: what was measured on one rig alone cannot be told from that rig.
 * @returns which pairs can be compared; null where all can
 */
export function isolatedByRig(used: AnalysisRow[], findings: Finding[]): ((a: string, b: string) => boolean) | null {
  const rigged = used.flatMap((r) => (r.rig ? [{ specimen: r.specimen, block: r.rig }] : []));
  const rigs = [...new Set(rigged.map((r) => r.block))];
  if (rigs.length < 2) return null;
  const links = linkedComponents(rigged);
  if (links.count < 2) return null;
  const sides = Array.from({ length: links.count }, (_, c) => {
    const names = (m: Map<string, number>) => [...m].filter(([, part]) => part === c).map(([name]) => name);
    return `${names(links.specimens).join(', ')} on ${names(links.blocks).join(', ')}`;
  });
  findings.push({
    code: 'rig_confounded',
    severity: 'reject',
    message: `Rig and specimen are confounded: ${sides.join('; ')}. Nothing is compared across them; mount one specimen on both rigs.`,
  });
  return (a, b) => links.specimens.get(a) === links.specimens.get(b);
}

/** Specimens whose true mean may lie above the mean of what was measured, and those whose may lie below. */
export type BoundedSpecimens = Record<BoundSide, Set<string>>;

/** Specimens of which some runs have a bound only, with valid ones beside them: they throttled, or ended without the event. */
export function boundedSpecimens(rows: AnalysisRow[], fit: OneWayFit, outcome: OutcomeKey, findings: Finding[]): BoundedSpecimens {
  const namesOf = (side: BoundSide, isCut: (r: AnalysisRow) => boolean | undefined) => {
    const cut = new Set(rows.filter((r) => isCut(r) && !r.excluded).map((r) => r.specimen));
    const names = fit.groups.map((g) => g.specimen).filter((name) => cut.has(name));
    if (names.length > 0) {
      const { code, did, left, instead } = boundWords(outcome, side);
      findings.push({
        ...{ code, severity: 'warn' },
        message: `${names.join(', ')} ${did} in some runs. Those have no value, so the mean of the others is ${left}: only verdicts that a ${side === 'above' ? 'higher' : 'lower'} value would make stronger are given. ${instead}`,
      });
    }
    return new Set(names);
  };
  return { above: namesOf('above', (r) => r.censored), below: namesOf('below', (r) => r.below) };
}

/** Specimens of one mount, and where their scatter comes from. */
export function oneMountFinding({ fit, df }: Model, states: States, known: boolean, findings: Finding[]): void {
  const alone = fit.groups.filter((g) => g.n < 2 && !states.has(g.specimen)).map((g) => g.specimen);
  if (alone.length === 0) return;
  findings.push({
    code: 'one_mount',
    severity: 'warn',
    message: `${alone.join(', ')} ${alone.length === 1 ? 'has' : 'have'} one mount only: ${alone.length === 1 ? 'its' : 'their'} scatter is ${df >= ENOUGH_DF ? "taken from this study's other mounts" : known ? 'assumed' : 'not known'}, and no verdict with ${alone.length === 1 ? 'it' : 'them'} is firm.${df >= ENOUGH_DF || known ? ' Chances of being best are drawn with that scatter.' : ''}`,
  });
}

/** Mounts that all read the same. */
export function noScatterFinding({ fit, sd }: Model, shared: AnalysisOptions['shared_errors'], findings: Finding[]): void {
  if (sd !== 0 || fit.groups.every((g) => g.n < 2) || fit.groups.some((g) => (shared[g.specimen]?.se ?? 0) > 0)) return;
  findings.push({
    code: 'no_scatter',
    severity: 'warn',
    message:
      'All mounts of each specimen read the same to the last digit. No interval can be given; a finer reading would show the scatter.',
  });
}

/** From this p on days differ beyond doubt. */
const DAYS_DIFFER = 0.01;

/** Days that differ widen all intervals where the specimens share them: the one who compares is told to take them out. */
export function daysFinding(used: AnalysisRow[], findings: Finding[]): void {
  if (used.some((r) => !r.day) || new Set(used.map((r) => r.day)).size < 2) return;
  const fit = fitBlocks(mountValues(used, 'day').map((m) => ({ ...m, block: m.block ?? '' })));
  const effect = Math.max(0, ...fit.component) === 0 ? blockEffect(fit) : null;
  if (!effect || effect.p >= DAYS_DIFFER) return;
  findings.push({
    code: 'days_differ',
    severity: 'note',
    message: `The bench days differ (p = ${effect.p < 0.0001 ? 'below 0.0001' : effect.p.toFixed(4)}), and the comparison is not adjusted for that: the intervals are wider than necessary. Adjust for bench day.`,
    numbers: { p: effect.p },
  });
}
