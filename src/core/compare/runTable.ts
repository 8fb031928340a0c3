import Papa from 'papaparse';
import { LogError } from '../logs/types';
import { median } from '../stats/quantiles';
import type { AnalysisRow } from './rows';
import type { BlockBy } from './types';

const REQUIRED = ['specimen', 'mount', 'value'];
const MAX_ROWS = 200_000;
const MOST_VALUE = 1e6;

/**
 * Reads a table of runs: columns specimen, mount, value and optionally run, day, rig, valid, excluded, reason, r_k_per_w, r_valid.
 * @param outcome r_k_per_w takes that column instead of value, and its own validity
 * @param block what is blocked by; its columns must then be there, with a cell in every row that counts
 * @returns rows, and the margin to use where none is given: 1 K, or what 1 K is in K/W at the table's median power
 * @throws LogError naming row and column where a cell cannot be read
 */
export function readRunTable(
  file: string,
  text: string,
  outcome: 'rise' | 'r_k_per_w',
  block: BlockBy | null = null,
): { rows: AnalysisRow[]; default_margin: number } {
  const { data, meta } = Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: 'greedy', transformHeader: (h) => h.trim().toLowerCase() });
  const fields = meta.fields ?? [];
  const blockedBy = block === null ? [] : block.split('-');
  const needed = [...REQUIRED, ...(outcome === 'r_k_per_w' ? ['r_k_per_w'] : []), ...blockedBy];
  for (const name of needed) {
    if (!fields.includes(name)) throw new LogError(file, `the column "${name}" is missing; the header needs ${needed.join(', ')}.`, { row: 1, column: name });
  }
  if (data.length === 0) throw new LogError(file, 'there is a header but no row below it; one row per run is needed.', { row: 2 });
  if (data.length > MAX_ROWS) throw new LogError(file, `the table has ${data.length} rows; up to ${MAX_ROWS} are read.`);
  const powers: number[] = [];
  const rows = data.flatMap((record, i): AnalysisRow[] => {
    const row = i + 2;
    const specimen = (record.specimen ?? '').trim();
    const mount = (record.mount ?? '').trim();
    if (!specimen || !mount) throw new LogError(file, 'specimen and mount must not be empty.', { row, column: specimen ? 'mount' : 'specimen' });
    const flag = (name: string, otherwise: boolean) => readFlag(file, row, name, record[name], otherwise);
    const valid = outcome === 'rise' ? flag('valid', true) : flag('r_valid', true);
    const value = readValue(file, row, outcome === 'rise' ? 'value' : 'r_k_per_w', record, valid);
    if (outcome === 'r_k_per_w' && valid) {
      const rise = Number(record.value);
      if (Number.isFinite(rise) && value !== null && value > 0) powers.push(rise / value);
    }
    const base = {
      specimen,
      mount,
      run: record.run?.trim() || undefined,
      valid,
      excluded: flag('excluded', false),
      reason: record.reason?.trim() || undefined,
      day: record.day?.trim() || undefined,
      rig: record.rig?.trim() || undefined,
    };
    const unnamed = blockedBy.find((name) => !base[name as 'day' | 'rig']);
    if (unnamed && valid && !base.excluded)
      throw new LogError(file, `the ${unnamed} is empty; to compare in blocks every run that counts needs it.`, { row, column: unnamed });
    return [{ ...base, value: value ?? Number.NaN }];
  });
  const power = median(powers);
  return { rows, default_margin: outcome === 'rise' || !(power > 0) ? 1 : 1 / power };
}

function readValue(file: string, row: number, column: string, record: Record<string, string>, needed: boolean): number | null {
  const text = (record[column] ?? '').trim();
  const value = text === '' ? Number.NaN : Number(text);
  if (Number.isFinite(value)) {
    if (Math.abs(value) > MOST_VALUE) throw new LogError(file, `${text} is no plausible value; up to ±${MOST_VALUE} is read.`, { row, column });
    return value;
  }
  if (!needed) return null;
  throw new LogError(file, `"${text}" is not a number; write it with a decimal point, such as 41.25.`, { row, column });
}

function readFlag(file: string, row: number, column: string, cell: string | undefined, otherwise: boolean): boolean {
  const text = (cell ?? '').trim().toLowerCase();
  if (text === '') return otherwise;
  if (['true', '1', 'yes'].includes(text)) return true;
  if (['false', '0', 'no'].includes(text)) return false;
  throw new LogError(file, `"${text}" should be true or false.`, { row, column });
}
