import { parseReading, type TypedQuantity } from '#core/signal/reduce/typedReading';
import type { StepEnd } from '#core/stability/ladder';
import type { TypedStep } from './typedRun';

/** Words of a header that name a column of a ladder. */
const COLUMNS = {
  clock: /^(clock|frequency|freq|core clock|clock speed)\b/i,
  voltage: /^(voltage|volts?|vcore|core voltage)\b/i,
  end: /^(result|outcome|status|end|how it ended|ended|passed)\b/i,
  temperature: /^(temperature|temp|max temperature|hottest|mean temperature)\b/i,
  held: /^(held|time|duration|seconds|run time)\b/i,
};
type ColumnKey = keyof typeof COLUMNS;

const ENDS: [RegExp, StepEnd][] = [
  [/^(did not|didn.t|no) ?(start|boot|post)|^not started|^no display/i, 'did_not_start'],
  [/^(pass(ed)?|ok|stable|yes|true|1|success)$/i, 'passed'],
  [/^(hung|hang|froze(n)?|freeze|crash(ed)?|reboot(ed)?|black ?screen)/i, 'hung'],
  [/^(fail(ed)?|error.*|wrong.*|unstable|no|false|0|artefacts?)$/i, 'failed'],
];

/** Without the rests that a change of unit leaves: steps are told apart by their figures. */
const plain = (v: number): number => Number(v.toPrecision(9));

const END_WORDS = 'passed, failed, hung or did not start';

/**
 * Reads the steps of a ladder from the rows of a table: clock and how it ended, with voltage, temperature and time held where there are.
 * @param rows cells, the header first
 * @returns the steps in their order, or the sentence that says what is wrong
 */
export function readLadder(rows: string[][]): TypedStep[] | string {
  const [header = [], ...body] = rows;
  const at = (key: ColumnKey) => header.findIndex((h) => COLUMNS[key].test(h.trim()));
  if (at('clock') < 0 || at('end') < 0)
    return `The first row should name the columns, at least a clock and a result (${END_WORDS}); it reads "${header.join(', ').slice(0, 120)}".`;
  if (body.length === 0) return 'The table has a header and no step below it.';
  const steps: TypedStep[] = [];
  for (const [i, row] of body.entries()) {
    const cell = (key: ColumnKey) => (at(key) < 0 ? '' : (row[at(key)] ?? '').trim());
    // a unit in the header counts for cells without one
    const withUnit = (key: ColumnKey) => {
      const unit = /[/([]\s*([^\d\s)\]]+)\s*[)\]]?\s*$/.exec(header[at(key)] ?? '')?.[1] ?? '';
      return cell(key) === '' || /[^\d.,:\s]/.test(cell(key)) ? cell(key) : `${cell(key)} ${unit}`.trim();
    };
    const number = (key: ColumnKey, quantity: TypedQuantity) => parseReading(withUnit(key), quantity);
    const [clock, voltage] = [number('clock', 'clock_mhz'), number('voltage', 'voltage_v')];
    const other = [number('temperature', 'mean_c'), number('held', 'run_time_s')].find((r) => typeof r === 'string');
    const problem = [clock, voltage, other].find((r) => typeof r === 'string');
    if (typeof problem === 'string') return `Row ${i + 2}: ${problem}`;
    if (clock === null || typeof clock === 'string') return `Row ${i + 2} has no clock.`;
    const end = ENDS.find(([word]) => word.test(cell('end')))?.[1];
    if (!end) return `Row ${i + 2}: "${cell('end')}" is no result of a step; it is ${END_WORDS}.`;
    steps.push({
      ...{ clock_mhz: plain(clock.value), end },
      voltage_v: voltage === null || typeof voltage === 'string' ? null : plain(voltage.value),
      ...(cell('temperature') ? { temperature: withUnit('temperature') } : {}),
      ...(cell('held') ? { held: withUnit('held') } : {}),
    });
  }
  return steps;
}
