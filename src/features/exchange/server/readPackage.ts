import { isDeepStrictEqual } from 'node:util';
import { tablePath } from '#features/exchange/model/descriptor';
import { type PackageRow, type PackageTable, readTable, tableSchema } from '#features/exchange/model/packageTable';
import { STUDY_FORMAT, STUDY_VERSION, type StudyDocument } from '#features/exchange/model/studyDocument';
import { TABLES } from '#features/exchange/model/tables';
import { measured, type OpenedPackage, PackageError } from './openPackage';
import { studyFaults } from './studySchema';
import type { PackagedStudy } from './valueRows';

/** The tables of a package, by their names. */
export type PackageTables = Record<string, PackageRow[]> & PackagedStudy['tables'];

/** A package as it says it is, before anything is computed anew. */
export interface ReadPackage {
  document: StudyDocument;
  tables: PackageTables;
  /** where it does not hold together: bytes, hashes, cells, references; one line each */
  faults: string[];
}

/**
 * Reads a package and tells where it does not hold together.
 * @param isLater files that whoever asks reads later, and holds against their hash then
 * @throws PackageError where it cannot be read, or a newer program wrote it
 */
export async function readPackage(opened: OpenedPackage, isLater: (path: string) => boolean = () => false): Promise<ReadPackage> {
  const files = await measuredFiles(opened, isLater);
  const document = await readDocument(opened);
  const { tables, problems } = await readTables(opened);
  const faults = [...files.differences, ...problems, ...referenceProblems(tables), ...setProblems(document, tables)];
  for (const table of ['files', 'photographs', 'clips', 'reports']) faults.push(...tableHashProblems(table, tables[table], files.hashes));
  return { document, tables, faults };
}

/** Every file against the bytes and the hash that are told of it; and the hash each has, by its place. */
async function measuredFiles(
  opened: OpenedPackage,
  isLater: (path: string) => boolean,
): Promise<{ differences: string[]; hashes: Map<string, string> }> {
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
    if (isLater(path)) {
      if (opened.bytesOf(path) !== bytes) differences.push(`${path}: it has ${opened.bytesOf(path)} bytes, and should have ${bytes}.`);
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
const tableHashProblems = (table: string, rows: PackageRow[], hashes: Map<string, string>): string[] =>
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
  const { version } = document as { version?: unknown };
  if (typeof version === 'number' && version > STUDY_VERSION)
    throw new PackageError(`A newer version of Warm Gauge wrote this package (format ${version}); use that one.`);
  const [first] = studyFaults(document);
  if (first) throw new PackageError(`study.json does not hold what a study holds: ${first}.`);
  return document as StudyDocument;
}

/** The tables, each by the schema of this program; what the package says of their columns has to be the same. */
async function readTables(opened: OpenedPackage): Promise<{ tables: PackageTables; problems: string[] }> {
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
  return { tables: tables as PackageTables, problems };
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

function referenceProblems(tables: PackageTables): string[] {
  return TABLES.flatMap((table) =>
    (table.foreignKeys ?? []).flatMap(({ fields, reference }) => {
      const known = new Set(tables[reference.resource].map((row) => row[reference.fields]));
      return tables[table.name].flatMap((row, i) =>
        known.has(row[fields]) ? [] : [`${tablePath(table)}: line ${i + 2}, ${fields}: ${reference.resource} has no ${row[fields]}.`],
      );
    }),
  );
}

function setProblems({ runs, specimens }: StudyDocument, tables: PackageTables): string[] {
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
