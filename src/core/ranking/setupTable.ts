import Papa from 'papaparse';
import { LogError } from '#core/signal/logs/types';
import { unguarded } from '#core/text/csv';
import { type RankedMount, rowsOfMounts } from './mountRows';
import type { RankingRow } from './types';

const MOST_ROWS = 20_000;
const MOST_MATERIALS = 400;
const MOST_SETUPS = 500;

/**
 * Reads a table of set-ups: columns setup, material, mean and variance (mm²·K/W), or setup, material, mount and value, of which both are formed.
 * @param default_sd standard deviation between mounts that is assumed where a table of mounts does not tell it; null: refused
 * @throws LogError naming row and column where a cell cannot be read
 */
export function readSetupTable(file: string, text: string, default_sd: number | null): RankingRow[] {
  const { data, meta } = Papa.parse<Record<string, string>>(text.replace(/^\uFEFF/, ''), {
    header: true,
    skipEmptyLines: 'greedy',
    comments: '#',
    transformHeader: (h) => h.trim().toLowerCase(),
    transform: (v) => unguarded(v.trim()),
  });
  const fields = meta.fields ?? [];
  const isMeans = fields.includes('mean');
  const needed = ['setup', 'material', ...(isMeans ? ['mean', 'variance'] : ['mount', 'value'])];
  const missing = needed.find((name) => !fields.includes(name));
  if (missing)
    throw new LogError(
      file,
      `the column "${missing}" is missing; the header needs setup, material and either mean, variance or mount, value.`,
    );
  if (data.length === 0) throw new LogError(file, 'there is a header but no row below it; one row a set-up and material is needed.');
  if (data.length > MOST_ROWS) throw new LogError(file, `the table has ${data.length} rows; up to ${MOST_ROWS} are read.`);
  const named = (row: Record<string, string>, column: string, i: number): string => {
    if (!row[column]) throw new LogError(file, `the ${column} is empty.`, { row: i + 2, column });
    return row[column];
  };
  const figure = (row: Record<string, string>, column: string, i: number): number => {
    const value = Number(row[column]);
    if (!row[column] || !Number.isFinite(value) || Math.abs(value) > 1e9)
      throw new LogError(file, `"${row[column] ?? ''}" is not a number.`, { row: i + 2, column });
    return value;
  };
  const rows = isMeans
    ? data.map((row, i): RankingRow => {
        const variance = figure(row, 'variance', i);
        if (variance <= 0) throw new LogError(file, 'the variance of a mean is above 0.', { row: i + 2, column: 'variance' });
        return { setup: named(row, 'setup', i), material: named(row, 'material', i), mean: figure(row, 'mean', i), variance };
      })
    : mountRows(
        file,
        data.map((row, i) => ({ setup: named(row, 'setup', i), material: named(row, 'material', i), value: figure(row, 'value', i) })),
        default_sd,
      );
  refuseBounds(file, rows);
  return rows;
}

function mountRows(file: string, mounts: RankedMount[], default_sd: number | null): RankingRow[] {
  try {
    return rowsOfMounts(mounts, () => default_sd).map(({ setup, material, mean, variance }) => ({ setup, material, mean, variance }));
  } catch (error) {
    throw new LogError(file, (error as Error).message);
  }
}

function refuseBounds(file: string, rows: RankingRow[]): void {
  const keys = new Set<string>();
  for (const { setup, material } of rows) {
    const key = JSON.stringify([setup, material]);
    if (keys.has(key)) throw new LogError(file, `${material} stands twice in ${setup}; one row a set-up and material is needed.`);
    keys.add(key);
  }
  for (const [what, most] of [
    ['material', MOST_MATERIALS],
    ['setup', MOST_SETUPS],
  ] as const)
    if (new Set(rows.map((r) => r[what])).size > most) throw new LogError(file, `up to ${most} ${what}s are ranked together.`);
}
