import { mean } from '#core/stats/moments';
import type { BlockBy, Finding, MountValue } from './types';

/** One run (or one typed mount value) as it enters a comparison. */
export interface AnalysisRow {
  specimen: string;
  mount: string;
  run?: string;
  value: number;
  valid?: boolean;
  excluded?: boolean;
  reason?: string;
  /** its value is a lower bound only, for it throttled; such a row is not valid */
  censored?: boolean;
  /** its value is an upper bound only; such a row is not valid */
  below?: boolean;
  /** bench day and rig, where they are known */
  day?: string;
  rig?: string;
}

/**
 * Mean of the runs of each mount, in the order of first appearance.
 * @param by what the mounts are blocked by; a mount belongs where its first run was made
 */
export function mountValues(rows: AnalysisRow[], by: BlockBy | null = null): MountValue[] {
  const mounts = new Map<string, { specimen: string; mount: string; block: string; values: number[] }>();
  for (const row of rows) {
    const key = JSON.stringify([row.specimen, row.mount]);
    const known = mounts.get(key);
    if (known) known.values.push(row.value);
    else mounts.set(key, { specimen: row.specimen, mount: row.mount, block: blockOf(row, by), values: [row.value] });
  }
  return Array.from(mounts.values(), ({ specimen, mount, block, values }) => ({
    specimen,
    mount,
    value: mean(values),
    ...(by ? { block } : {}),
  }));
}

function blockOf(row: AnalysisRow, by: BlockBy | null): string {
  switch (by) {
    case 'day':
      return row.day ?? '';
    case 'rig':
      return row.rig ?? '';
    case 'rig-day':
      return JSON.stringify([row.rig ?? '', row.day ?? '']);
    case null:
      return '';
  }
}

/** The rows that count; those left out are listed in a finding, each with its reason. */
export function takeUsable(rows: AnalysisRow[], findings: Finding[]): AnalysisRow[] {
  const left = rows.filter((r) => r.valid === false || r.excluded === true);
  if (left.length > 0) {
    const named = left.map((r) => {
      const why = r.excluded ? r.reason || 'no reason given' : r.reason || 'not valid';
      return `${r.specimen} mount ${r.mount}${r.run ? ` run ${r.run}` : ''} (${why})`;
    });
    findings.push({
      code: 'excluded_mounts',
      severity: 'note',
      message: `${left.length === 1 ? '1 run is' : `${left.length} runs are`} left out: ${named.join('; ')}.`,
      numbers: { runs: left.length },
    });
  }
  return rows.filter((r) => r.valid !== false && r.excluded !== true);
}
