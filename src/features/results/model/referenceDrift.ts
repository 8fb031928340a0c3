import { type ControlChart, controlChart } from '#core/compare/controlChart';
import { OUTCOMES, type Outcome } from '#core/compare/outcomes';
import { write } from '#core/text/words';
import type { ResultsChoice, StudyFacts } from './facts';
import { mountFigures } from './figures';

const DAY_MS = 86_400_000;

export interface ReferenceDrift {
  reference: string;
  points: { mount: number; day: string | null /** days since the first mount */; t: number; value: number }[];
  chart: ControlChart;
  /** what the chart says */
  sentence: string;
}

/** The reference's mounts over the days of the study, as a control chart; null with fewer than two of them. */
export function referenceDrift(facts: StudyFacts, choice: ResultsChoice): ReferenceDrift | null {
  const { reference } = facts;
  if (reference === null) return null;
  // what stands on several devices differs by device: that is no drift of a bench
  if (facts.design === 'before_after' && new Set(facts.runs.filter((r) => r.specimen === reference).map((r) => r.rig)).size > 1)
    return null;
  const days = new Map(facts.runs.map((r) => [r.mount_id, r.day]));
  const mounts = mountFigures(facts, choice)
    .filter((m) => m.specimen === reference && m.value !== null)
    .map((m) => ({ mount: m.mount, day: days.get(m.mount_id) ?? null, value: m.value as number }));
  const dated = mounts.every((m) => m.day !== null);
  const ordered = [...mounts].sort((a, b) => (dated ? (a.day as string).localeCompare(b.day as string) : 0) || a.mount - b.mount);
  const first = dated && ordered[0] ? Date.parse(ordered[0].day as string) : 0;
  const points = ordered.map((m, i) => ({ ...m, t: dated ? (Date.parse(m.day as string) - first) / DAY_MS : i }));
  const chart = controlChart(points);
  return chart && { reference, points, chart, sentence: driftSentence(reference, points.length, chart, dated, OUTCOMES[choice.outcome]) };
}

function driftSentence(
  reference: string,
  count: number,
  { beyond, one_sided, drift }: ControlChart,
  dated: boolean,
  { unit, digits }: Outcome,
): string {
  const parts = [
    beyond.length === 0
      ? `All ${count} mounts of ${reference} lie within the control limits.`
      : `${beyond.length} of ${count} mounts of ${reference} ${beyond.length === 1 ? 'lies' : 'lie'} outside the control limits: either the bench or the mount changed.`,
    ...(one_sided.length > 0 ? ['Eight or more in a row lie on one side: the bench shifted.'] : []),
  ];
  if (drift && dated) {
    const [low, high] = drift.ci.map((v) => write(10 * v, digits + 1));
    parts.push(
      drift.ci[0] > 0 || drift.ci[1] < 0
        ? `It drifts, by ${low} to ${high} ${unit} in ten days: compare within days.`
        : `No drift detected: ${low} to ${high} ${unit} in ten days would fit.`,
    );
  }
  return parts.join(' ');
}
