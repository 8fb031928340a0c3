import { list, plural } from '#core/text/words';
import type { ReportContent } from './content';

/** What publishing a report freezes, and what a reader would ask about it. */
export interface PublishingView {
  freezes: string;
  /** the sentence that a reader takes along */
  claim: string;
  warnings: string[];
}

/** What is frozen when a report is published as it stands, with a warning for all that is unmeasured, undecided or open. */
export function publishingView(content: ReportContent): PublishingView {
  const { answer, runs, mounts, specimens, recommendations, look } = content;
  const { analysis } = answer;
  const measured = new Set(analysis?.specimens.map((s) => s.specimen) ?? []);
  const unmeasured = specimens.filter((s) => !measured.has(s.name)).map((s) => s.name);
  const missing = specimens
    .map((s) => ({ name: s.name, open: s.planned - mounts.filter((m) => m.specimen === s.name).length }))
    .filter((s) => s.open > 0 && measured.has(s.name));
  const undecided = answer.undecided?.runs.length ?? 0;
  const depends = analysis?.pairs.filter((p) => !p.firm).length ?? 0;
  const single = analysis?.specimens.filter((s) => s.mounts === 1).map((s) => s.specimen) ?? [];
  const changed = recommendations.filter((r) => r.checks.some((c) => c.state === 'changed' || c.state === 'gone')).map((r) => r.reader);
  const warnings = [
    ...(undecided > 0
      ? [`${plural(undecided, 'run needs', 'runs need')} your decision and ${undecided === 1 ? 'is' : 'are'} out of all means.`]
      : []),
    ...(unmeasured.length > 0 ? [`${list(unmeasured)} ${unmeasured.length === 1 ? 'has' : 'have'} no valid value yet.`] : []),
    ...(missing.length > 0 ? [`Planned and not made: ${list(missing.map((s) => `${plural(s.open, 'mount')} of ${s.name}`))}.`] : []),
    ...(single.length > 0
      ? [`${list(single)} ${single.length === 1 ? 'was' : 'were'} mounted once: its repeatability is assumed, not measured.`]
      : []),
    ...(depends > 0
      ? [
          `${plural(depends, 'verdict depends', 'verdicts depend')} on the method; more mounts would settle ${depends === 1 ? 'it' : 'them'}.`,
        ]
      : []),
    ...(changed.length > 0 ? [`The verdict under the recommendation for ${list(changed)} has changed since its words were written.`] : []),
    ...(look !== '' ? [look] : []),
  ];
  return {
    freezes: `${plural(runs.length, 'run')} on ${plural(mounts.length, 'mount')} of ${plural(specimens.length, 'specimen')}`,
    claim: `${answer.headline.claim} ${answer.headline.basis}`.trim(),
    warnings,
  };
}
