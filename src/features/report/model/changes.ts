import { plural } from '#core/text/words';
import { changedVerdicts } from '#features/results/model/choice';
import type { ReportContent } from './content';

/** What changed from one version of a report to the next, in sentences. */
export function reportChanges(before: ReportContent, after: ReportContent): string[] {
  const lines: string[] = [];
  if (before.title !== after.title) lines.push(`The title was "${before.title}".`);
  if (before.question !== after.question) lines.push('The question was reworded.');
  const runKey = (r: ReportContent['runs'][number]) => `${r.specimen}/${r.mount}/${r.run}`;
  const [was, is] = [new Map(before.runs.map((r) => [runKey(r), r])), new Map(after.runs.map((r) => [runKey(r), r]))];
  const added = [...is.keys()].filter((k) => !was.has(k));
  const gone = [...was.keys()].filter((k) => !is.has(k));
  const moved = [...is].filter(([k, r]) => {
    const old = was.get(k);
    return old && (old.rise_k !== r.rise_k || old.valid !== r.valid);
  });
  if (added.length > 0) lines.push(`${plural(added.length, 'run was', 'runs were')} added.`);
  if (gone.length > 0) lines.push(`${plural(gone.length, 'run was', 'runs were')} removed.`);
  if (moved.length > 0) lines.push(`${plural(moved.length, 'run has', 'runs have')} another value.`);
  const outs = (c: ReportContent) =>
    new Set(c.findings.left_out.map((l) => `${l.specimen} mount ${l.mount}${l.run === null ? '' : ` run ${l.run}`}`));
  const [outBefore, outAfter] = [outs(before), outs(after)];
  for (const name of outAfter) if (!outBefore.has(name)) lines.push(`${name} was left out.`);
  for (const name of outBefore) if (!outAfter.has(name)) lines.push(`${name} was included again.`);
  for (const c of changedVerdicts(before.answer.analysis, after.answer.analysis))
    lines.push(`Verdict: "${c.before ?? 'not judged'}" became "${c.after ?? 'not judged'}"`);
  const [old, now] = [settingsOf(before), settingsOf(after)];
  for (const what of new Set([...old.keys(), ...now.keys()])) {
    const [was, is] = [old.get(what) ?? 'not used', now.get(what) ?? 'not used'];
    if (was !== is) lines.push(`${what}: ${was} became ${is}.`);
  }
  if (JSON.stringify(before.part ?? null) !== JSON.stringify(after.part ?? null))
    lines.push(
      after.part
        ? `The answer for other parts rests on ${plural(after.part.setups, 'set-up')} and ${plural(after.part.mounts, 'mount')} now.`
        : 'The answer for other parts is gone: the ranking says too little now.',
    );
  const words = (c: ReportContent) => JSON.stringify([c.sections, c.recommendations.map((r) => [r.reader, r.words])]);
  if (words(before) !== words(after)) lines.push('Sections or words were changed.');
  return lines.length === 0 ? ['Nothing changed but the date.'] : lines;
}

/** Settings that were used, by what they are; versions of before listed the others too. */
const settingsOf = ({ method }: ReportContent): Map<string, string> =>
  new Map(method.filter((m) => m.value !== 'not set' && m.value !== 'not held').map((m) => [m.what, m.value]));
