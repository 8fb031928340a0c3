import { type BlockFit, fitBlocks } from './blockModel';
import { fitOneWay, type OneWayFit } from './oneWay';
import { type AnalysisRow, mountValues } from './rows';
import type { BlockBy, Finding, MountValue } from './types';

/** The mounts of a study under the model it is judged by: one-way, or with blocks. */
export interface Model {
  fit: OneWayFit;
  blocks: { fit: BlockFit; rows: (MountValue & { block: string })[] } | null;
  /** residual scatter and its degrees of freedom */
  sd: number | null;
  df: number;
}

/** Fits the mounts of the rows that count, with what they are blocked by, and tells what of the blocks is not known. */
export function fitModel(used: AnalysisRow[], block: BlockBy | null, findings: Finding[]): Model {
  const mounts = mountValues(used, block);
  if (block === null) {
    const fit = fitOneWay(mounts);
    return { fit, blocks: null, sd: fit.sd, df: fit.df };
  }
  const rows = mounts.map((m) => ({ ...m, block: m.block ?? '' }));
  if (rows.some((r) => r.block === '' || r.block.includes('""'))) {
    const word = { day: 'bench day', rig: 'rig', 'rig-day': 'rig or bench day' }[block];
    findings.push({
      code: 'block_unknown',
      severity: 'warn',
      message: `Some mounts name no ${word}; they are taken to share one of their own.`,
    });
  }
  const fit = fitBlocks(rows);
  if (block === 'day' && Math.max(0, ...fit.component) > 0) {
    findings.push({
      code: 'day_confounded',
      severity: 'warn',
      message: 'Some specimens never share a bench day with the others, nor are they linked through days; they are not compared with them.',
    });
  }
  return { fit: fit.one_way, blocks: { fit, rows }, sd: fit.sd, df: fit.df };
}
