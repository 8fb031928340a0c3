import type { Reduction } from '#core/signal/reduce/types';
import { plural } from '#core/text/words';
import { comparisonRows, packagedComparisons } from '#features/exchange/model/comparisons';
import type { PackageRow } from '#features/exchange/model/packageTable';
import type { ComputedRows } from '#features/exchange/model/runRows';
import type { StudyFacts } from '#features/results/model/facts';
import type { OpenedPackage } from './openPackage';
import { pictureFigures } from './pictureFigures';
import type { PackageTables } from './readPackage';
import { gatheredFrom, type PackagedStudy } from './valueRows';

/** Figures that agree to this part of themselves are the same: another machine may round the last digits otherwise. */
const SAME = 1e-9;
const MOST_COLOUR_STEPS = 2;

/** What was compared, and where what was computed differs from what the package says: one line each, with both values. */
interface Compared {
  differences: string[];
  unchecked: string[];
}

/** How a run is called in a line. */
export const runName = (run: PackageRow, { mounts, specimens }: PackageTables): string => {
  const mount = mounts.find((m) => m.id === run.mount_id);
  const specimen = specimens.find((s) => s.id === mount?.specimen_id);
  return `Run ${run.id} (${specimen?.name ?? 'unknown'}, mount ${mount?.number ?? '?'}, run ${run.number})`;
};

/** Figures of a run as they were computed anew, against the tables. */
export function runDifferences(name: string, { runs, ...below }: ComputedRows, tables: PackageTables): string[] {
  const id = runs.id;
  return [
    ...rowDifferences('tables/runs.csv', name, runs, tables.runs.find((r) => r.id === id) as PackageRow, 'its logs give'),
    ...Object.entries(below).flatMap(([table, rows]) =>
      rowsDifferences(
        `tables/${table}.csv`,
        name,
        rows,
        tables[table].filter((r) => r.run_id === id),
        'its logs give',
      ),
    ),
  ];
}

/** Rows that were computed against those of the package, in their order. */
function rowsDifferences(file: string, name: string, computed: PackageRow[], told: PackageRow[], source: string): string[] {
  if (computed.length !== told.length) return [`${file}: ${name} has ${plural(told.length, 'row')}, and ${source} ${computed.length}.`];
  return computed.flatMap((row, i) => rowDifferences(file, name, row, told[i], source));
}

function rowDifferences(file: string, name: string, computed: PackageRow, told: PackageRow, source: string): string[] {
  return Object.entries(computed).flatMap(([column, value]) =>
    isSame(value, told[column]) ? [] : [`${file}: ${name}, ${column} is ${said(told[column])}, and ${source} ${said(value)}.`],
  );
}

const said = (value: PackageRow[string] | undefined): string => (value === null || value === undefined ? 'empty' : String(value));

function isSame(a: PackageRow[string], b: PackageRow[string] | undefined): boolean {
  if (typeof a === 'number' && typeof b === 'number') return a === b || Math.abs(a - b) <= SAME * Math.max(Math.abs(a), Math.abs(b));
  // an empty text is written as an empty cell
  return a === b || ((a === null || a === '') && (b === null || b === undefined));
}

/** What is said of a run that was typed. */
export const typedWords = (name: string): string => `${name}: it was read from a display, and is taken as it was entered.`;

/** A run as its files give it. */
export interface RecomputedRun {
  reduction: Reduction;
  /** as its first log tells it; null where it tells none */
  start_epoch_s: number | null;
  zoned: boolean;
}

/** When a run began and on which bench day, against what its log tells: the day is by the calendar of the lab, whatever its zone. */
export function startDifferences(name: string, row: PackageRow, { start_epoch_s, zoned }: RecomputedRun): string[] {
  const file = 'tables/runs.csv';
  const { started_at, started_zoned, day } = row as { started_at: string | null; started_zoned: boolean; day: string | null };
  if (start_epoch_s !== null) {
    const told = new Date(1000 * start_epoch_s).toISOString();
    const differences = rowDifferences(file, name, { started_at: told, started_zoned: zoned }, row, 'its logs give');
    if (differences.length > 0) return differences;
  }
  const days = started_at === null ? [null] : daysOf(Date.parse(started_at), started_zoned);
  return days.includes(day) ? [] : [`${file}: ${name}, day is ${said(day)}, and it began ${said(started_at)}.`];
}

/** Calendar days that a moment may be: one by a clock without a zone, else those of every zone. */
const daysOf = (ms: number, zoned: boolean): (string | null)[] =>
  (zoned ? [-12, 0, 14] : [0]).map((hours) => new Date(ms + 3_600_000 * hours).toISOString().slice(0, 10));

type Comparisons = ReturnType<typeof packagedComparisons>;
type Compare = (asked: { facts: StudyFacts; confidence: number }) => Comparisons | Promise<Comparisons>;

/** The comparison anew, from what the files give, against the means and pairs of the package. */
export async function comparisonDifferences(
  study: PackagedStudy,
  compare: Compare = ({ facts, confidence }) => packagedComparisons(facts, confidence),
): Promise<{ differences: string[]; pairs: number }> {
  const { facts, level } = gatheredFrom(study);
  const tables = study.tables as PackageTables;
  const differences: string[] = [];
  const { confidence } = study.document.comparison;
  if (!isSame(level.confidence, confidence))
    differences.push(`study.json: comparison.confidence is ${confidence}, and the plan and the mounts give ${level.confidence}.`);
  const computed = comparisonRows(await compare({ facts, confidence: level.confidence }));
  for (const [table, keys, source] of [
    ['means', ['outcome', 'load', 'specimen'], 'the values give'],
    ['pairs', ['outcome', 'load', 'a', 'b'], 'the values give'],
  ] as const) {
    const keyOf = (row: PackageRow) => keys.map((k) => row[k]).join(', ');
    const told = new Map(tables[table].map((row) => [keyOf(row), row]));
    for (const row of computed[table]) {
      const theirs = told.get(keyOf(row));
      if (theirs) differences.push(...rowDifferences(`tables/${table}.csv`, keyOf(row), row, theirs, source));
      else differences.push(`tables/${table}.csv: ${keyOf(row)} is missing, and the values give it.`);
      told.delete(keyOf(row));
    }
    for (const key of told.keys()) differences.push(`tables/${table}.csv: ${key} is there, and the values do not give it.`);
  }
  return { differences, pairs: computed.pairs.length };
}

/** Photographs against their size and mean colour in the table; those that were left out are told. */
export async function photographDifferences(opened: OpenedPackage, rows: PackageRow[]): Promise<Compared> {
  const differences: string[] = [];
  const left = rows.filter((r) => !opened.has(r.path as string));
  for (const row of rows.filter((r) => !left.includes(r))) {
    const is = await opened
      .bytes(row.path as string)
      .then(pictureFigures)
      .catch(() => null);
    if (!is) {
      differences.push(`${row.path}: it is no picture.`);
      continue;
    }
    for (const [column, value] of Object.entries(is)) {
      const told = Number(row[column] ?? Number.NaN);
      // decoders differ by a step of colour
      if (!(Math.abs(told - value) <= (column === 'width' || column === 'height' ? 0 : MOST_COLOUR_STEPS)))
        differences.push(`${row.path}: its ${column} is ${value}, and tables/photographs.csv says ${said(row[column])}.`);
    }
  }
  const unchecked = left.length > 0 ? [`${plural(left.length, 'photograph')}: left out of the package.`] : [];
  return { differences, unchecked };
}
