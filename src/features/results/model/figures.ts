import { mountValues } from '#core/compare/rows';
import { rowsFor } from './choice';
import type { ResultsChoice, StudyFacts } from './facts';

/** One mount as a comparison sees it. */
export interface MountFigure {
  specimen: string;
  mount: number;
  mount_id: number;
  /** mean of its valid runs; null where it has none */
  value: number | null;
  /** highest lower bound of its throttled runs, where it has no valid one */
  at_or_above: number | null;
  /** lowest upper bound of its runs, where it has no valid one */
  at_or_below?: number | null;
  excluded_reason: string | null;
  /** what it reads although a person left it out; null where it counts */
  left_out_value: number | null;
  run_ids: number[];
}

/** Every mount of a study with its value under a choice, in the order of the runs. */
export function mountFigures(
  facts: Pick<StudyFacts, 'runs' | 'loads'>,
  choice: Pick<ResultsChoice, 'outcome' | 'load' | 'power_w' | 'event' | 'sensor' | 'at' | 'with_excluded'>,
): MountFigure[] {
  const rows = rowsFor(facts, choice);
  const means = new Map(mountValues(rows.filter((r) => r.valid && !r.excluded)).map((m) => [`${m.mount} ${m.specimen}`, m.value]));
  const all = new Map(
    mountValues(rowsFor(facts, { ...choice, with_excluded: true }).filter((r) => r.valid)).map((m) => [
      `${m.mount} ${m.specimen}`,
      m.value,
    ]),
  );
  const figures = new Map<string, MountFigure>();
  for (const r of facts.runs) {
    const key = `${r.mount} ${r.specimen}`;
    const known = figures.get(key);
    if (known) known.run_ids.push(r.run_id);
    else {
      figures.set(key, {
        ...{ specimen: r.specimen, mount: r.mount, mount_id: r.mount_id, value: means.get(key) ?? null, at_or_above: null },
        ...{ excluded_reason: r.mount_reason, run_ids: [r.run_id] },
        left_out_value: r.mount_reason !== null && !means.has(key) ? (all.get(key) ?? null) : null,
      });
    }
  }
  for (const row of rows) {
    const figure = figures.get(`${row.mount} ${row.specimen}`);
    if (!figure || figure.value !== null || row.excluded || !Number.isFinite(row.value)) continue;
    if (row.censored) figure.at_or_above = Math.max(figure.at_or_above ?? row.value, row.value);
    if (row.below) figure.at_or_below = Math.min(figure.at_or_below ?? row.value, row.value);
  }
  return [...figures.values()];
}
