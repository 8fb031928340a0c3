import { isDeepStrictEqual } from 'node:util';
import { LogReader } from '#core/signal/logs/logReader';
import type { Log } from '#core/signal/logs/types';
import { reduceTrace } from '#core/signal/reduce/reduce';
import { traceOf } from '#core/signal/reduce/reduceLogs';
import type { Reduction } from '#core/signal/reduce/types';
import { plural } from '#core/text/words';
import { comparisonRows, packagedComparisons } from '#features/exchange/model/comparisons';
import { tablePath } from '#features/exchange/model/descriptor';
import { type PackageRow, type PackageTable, readTable, tableSchema } from '#features/exchange/model/packageTable';
import { type ComputedRows, computedRows } from '#features/exchange/model/runRows';
import { type PackagedRun, STUDY_FORMAT, STUDY_VERSION, type StudyDocument } from '#features/exchange/model/studyDocument';
import { TABLES } from '#features/exchange/model/tables';
import { reduceValues, type TypedValues } from '#features/run/model/typedRun';
import { measured, type OpenedPackage, PackageError } from './openPackage';
import { pictureFigures } from './pictureFigures';
import { studyFaults } from './studySchema';
import { gatheredFrom, type PackagedStudy } from './valueRows';

/** Figures that agree to this part of themselves are the same: another machine may round the last digits otherwise. */
const SAME = 1e-9;
const MOST_COLOUR_STEPS = 2;

/** What was found in a package. */
export interface Verification {
  /** one line a difference, with both values */
  differences: string[];
  /** what could not be checked, as it is not in the package */
  unchecked: string[];
  runs: number;
  pairs: number;
}

type Tables = Record<string, PackageRow[]> & PackagedStudy['tables'];

/**
 * Recomputes every value of a package from its logs and every verdict from the values, compares them with what the package says, and checks
 * every hash. It needs no store.
 * @param say told how many runs were read so far
 * @throws PackageError where it cannot be read
 */
export async function verifyPackage(opened: OpenedPackage, say: (done: number, total: number) => void = () => {}): Promise<Verification> {
  const found: Verification = { differences: [], unchecked: [], runs: 0, pairs: 0 };
  const files = await measuredFiles(opened);
  found.differences.push(...files.differences);
  const document = await readDocument(opened);
  const { tables, problems } = await readTables(opened);
  found.differences.push(...problems, ...referenceProblems(tables), ...runSetDifferences(document, tables));
  const reductions = new Map<number, Omit<Reduction, 'findings'>>();
  for (const [i, run] of document.runs.entries()) {
    say(i, document.runs.length);
    const row = tables.runs.find((r) => r.id === run.id);
    if (!row) continue;
    const own = tables.files.filter((f) => f.run_id === run.id && f.kind === 'log');
    const name = runName(row, tables);
    const reduction = await recomputed(opened, run, own).catch((error: Error) => {
      found.differences.push(`${name}: its logs cannot be read as the package says (${error.message}).`);
      return null;
    });
    if (!reduction) continue;
    if (run.typed) found.unchecked.push(`${name}: it was read from a display, and is taken as it was entered.`);
    reductions.set(run.id, reduction);
    found.differences.push(...runDifferences(name, computedRows(run.id, reduction), tables));
    found.runs++;
  }
  const compared = comparisonDifferences({ document, tables, reductions });
  found.differences.push(...compared.differences);
  found.pairs = compared.pairs;
  for (const table of ['files', 'photographs', 'clips', 'reports'])
    found.differences.push(...tableHashDifferences(table, tables[table], files.hashes));
  const photographs = await photographDifferences(opened, tables.photographs);
  found.differences.push(...photographs.differences);
  found.unchecked.push(...photographs.unchecked);
  return found;
}

/** Every file against the bytes and the hash that are told of it; and the hash each has, by its place. */
async function measuredFiles(opened: OpenedPackage): Promise<{ differences: string[]; hashes: Map<string, string> }> {
  const hashes = new Map<string, string>();
  const differences = opened.unlisted.map((path) => `${path}: it lies in the package, and datapackage.json does not list it.`);
  const paths = new Set<string>();
  for (const { path, bytes, hash } of opened.descriptor.resources) {
    if (paths.has(path)) differences.push(`${path}: datapackage.json lists it twice.`);
    paths.add(path);
    if (!opened.has(path)) {
      differences.push(`${path}: datapackage.json lists it, and it is missing.`);
      continue;
    }
    const is = await measured(opened, path).catch((error: Error) => error);
    if (is instanceof Error) {
      differences.push(`${path}: it is damaged (${is.message}).`);
      continue;
    }
    hashes.set(path, is.hash.slice('sha256:'.length));
    if (is.bytes !== bytes) differences.push(`${path}: it has ${is.bytes} bytes, and should have ${bytes}.`);
    else if (is.hash !== hash) differences.push(`${path}: its hash is ${is.hash}, and should be ${hash}.`);
  }
  return { differences, hashes };
}

/** Hashes that stand in a table, against those the files have. */
const tableHashDifferences = (table: string, rows: PackageRow[], hashes: Map<string, string>): string[] =>
  rows.flatMap(({ path, sha256 }) => {
    const is = hashes.get(path as string);
    return is === undefined || is === sha256 ? [] : [`${path}: its SHA-256 is ${is}, and tables/${table}.csv says ${sha256}.`];
  });

async function readDocument(opened: OpenedPackage): Promise<StudyDocument> {
  let document: Partial<StudyDocument> | null;
  try {
    document = JSON.parse(await opened.text('study.json'));
  } catch (error) {
    throw error instanceof PackageError ? error : new PackageError(`study.json is no JSON (${(error as Error).message}).`);
  }
  if (document?.format !== STUDY_FORMAT) throw new PackageError('study.json is not that of a study of Warm Gauge.');
  if (document.version !== STUDY_VERSION)
    throw new PackageError(`A newer version of Warm Gauge wrote this package (format ${document.version}); verify it with that one.`);
  const [first] = studyFaults(document);
  if (first) throw new PackageError(`study.json does not hold what a study holds: ${first}.`);
  return document as StudyDocument;
}

/** The tables, each by the schema of this program; what the package says of their columns has to be the same. */
async function readTables(opened: OpenedPackage): Promise<{ tables: Tables; problems: string[] }> {
  const tables: Record<string, PackageRow[]> = {};
  const problems: string[] = [];
  for (const table of TABLES) {
    const path = tablePath(table);
    tables[table.name] = [];
    if (!opened.has(path)) {
      problems.push(`${path}: it is missing.`);
      continue;
    }
    const declared = opened.descriptor.resources.find((r) => r.path === path)?.schema;
    problems.push(...schemaDifferences(table, declared).map((what) => `${path}: ${what}`));
    const read = readTable(table, await opened.text(path));
    tables[table.name] = read.rows;
    problems.push(...read.problems.map((what) => `${path}: ${what}`));
  }
  return { tables: tables as Tables, problems };
}

function schemaDifferences(table: PackageTable, declared: object | undefined): string[] {
  const own = JSON.parse(JSON.stringify(tableSchema(table)));
  if (isDeepStrictEqual(own, declared)) return [];
  const fields = (declared as { fields?: { name?: string; unit?: string }[] } | undefined)?.fields ?? [];
  const units = table.fields.flatMap((field) => {
    const theirs = fields.find((f) => f.name === field.name);
    return theirs && theirs.unit !== field.unit
      ? [`${field.name} is said to be in ${theirs.unit ?? 'no unit'}, and is in ${field.unit ?? 'no unit'}.`]
      : [];
  });
  return units.length > 0 ? units : ['datapackage.json does not describe its columns as they are.'];
}

function referenceProblems(tables: Tables): string[] {
  return TABLES.flatMap((table) =>
    (table.foreignKeys ?? []).flatMap(({ fields, reference }) => {
      const known = new Set(tables[reference.resource].map((row) => row[reference.fields]));
      return tables[table.name].flatMap((row, i) =>
        known.has(row[fields]) ? [] : [`${tablePath(table)}: line ${i + 2}, ${fields}: ${reference.resource} has no ${row[fields]}.`],
      );
    }),
  );
}

function runSetDifferences({ runs, specimens }: StudyDocument, tables: Tables): string[] {
  const missing = (what: string, there: number[], rows: PackageRow[]) => {
    const ids = new Set(rows.map((r) => r.id));
    return [
      ...there.filter((id) => !ids.has(id)).map((id) => `tables/${what}s.csv: ${what} ${id} is in study.json, and missing here.`),
      ...rows
        .filter((r) => !there.includes(r.id as number))
        .map((r) => `study.json: ${what} ${r.id} is in tables/${what}s.csv, and missing here.`),
    ];
  };
  return [
    ...missing(
      'run',
      runs.map((r) => r.id),
      tables.runs,
    ),
    ...missing(
      'specimen',
      specimens.map((s) => s.id),
      tables.specimens,
    ),
  ];
}

const runName = (run: PackageRow, { mounts, specimens }: Tables): string => {
  const mount = mounts.find((m) => m.id === run.mount_id);
  const specimen = specimens.find((s) => s.id === mount?.specimen_id);
  return `Run ${run.id} (${specimen?.name ?? 'unknown'}, mount ${mount?.number ?? '?'}, run ${run.number})`;
};

/** A run as its files give it, read as the package says. */
async function recomputed(opened: OpenedPackage, run: PackagedRun, files: PackageRow[]): Promise<Reduction> {
  if (run.typed) return reduceValues(run.typed as TypedValues, run.options);
  if (files.length === 0) throw new Error('it has no log');
  const logs: Log[] = [];
  for (const { name, path } of files) {
    if (!opened.has(path as string)) throw new Error(`${path} is missing`);
    const options = { ...run.reading, sensor: run.options.sensor ?? undefined, parts: run.options.part_sensors };
    const reader = new LogReader(name as string, options, opened.bytesOf(path as string));
    for await (const piece of await opened.stream(path as string)) reader.feed(new Uint8Array(piece));
    logs.push(reader.end());
  }
  return reduceTrace(traceOf(logs, run.reading, run.options, run.clock_offset_s), run.options).reduction;
}

function runDifferences(name: string, { runs, ...below }: ComputedRows, tables: Tables): string[] {
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

/** The comparison anew, from what the files give, against the means and pairs of the package. */
function comparisonDifferences(study: PackagedStudy): { differences: string[]; pairs: number } {
  const { facts, level } = gatheredFrom(study);
  const tables = study.tables as Tables;
  const differences: string[] = [];
  const { confidence } = study.document.comparison;
  if (!isSame(level.confidence, confidence))
    differences.push(`study.json: comparison.confidence is ${confidence}, and the plan and the mounts give ${level.confidence}.`);
  const computed = comparisonRows(packagedComparisons(facts, level.confidence));
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
async function photographDifferences(opened: OpenedPackage, rows: PackageRow[]): Promise<Pick<Verification, 'differences' | 'unchecked'>> {
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
