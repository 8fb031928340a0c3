import { type Client, database, transaction } from '#app/database/pool';
import { execute } from '#app/database/query';
import { damaged, Refusal } from '#app/refusal';
import { labSettings } from '#app/settings';
import { calendarDay } from '#core/units/calendarDay';
import { comparisonRows } from '#features/exchange/model/comparisons';
import type { PackageRow } from '#features/exchange/model/packageTable';
import { computedRows } from '#features/exchange/model/runRows';
import type { SampledChannel } from '#features/exchange/model/samples';
import { STUDY_FORMAT, STUDY_VERSION, type StudyDocument } from '#features/exchange/model/studyDocument';
import { TABLES } from '#features/exchange/model/tables';
import {
  type ClipRow,
  channelRows,
  clipRows,
  decisionRows,
  faultRows,
  findingRows,
  mountRows,
  noteRows,
  openingRows,
  type PhotographRow,
  packagedCoolers,
  packagedFans,
  packagedInstruments,
  packagedMaterials,
  packagedPrints,
  packagedRigs,
  packagedRuns,
  photographRows,
  planState,
  type RunFileRow,
  recommendationRows,
  runFileRows,
  scheduleRows,
  specimenPlans,
  specimenRows,
  tryRecords,
  tryRows,
} from '#features/exchange/store/studyRows';
import { readPicture } from '#features/mount/store/photographs';
import { getDraft, getReport, listReports, type ReportRow } from '#features/report/store/reports';
import { historyFor } from '#features/results/server/studyResults';
import { listVerdictsShown } from '#features/results/store/verdictsShown';
import { listRuns, type PlacedRun } from '#features/run/store/runs';
import { getOrigin, type OriginRow } from '#features/study/store/origins';
import { getStudy, type StudyRow } from '#features/study/store/studies';
import packageJson from '../../../../package.json' with { type: 'json' };
import { pictureFigures } from './pictureFigures';
import { exchangeThreads } from './tasks';
import { gatheredFrom } from './valueRows';

/** Everything of a study that goes into its package, without the bytes of files and photographs. */
export interface GatheredPackage {
  document: StudyDocument;
  tables: Record<string, PackageRow[]>;
  files: (RunFileRow & { path: string })[];
  /** runs whose readings are in the store, with their channels */
  samples: { run_id: number; start_ms: number | null; period_s: number; duration_s: number; channels: SampledChannel[] }[];
  photographs: (PhotographRow & { path: string })[];
  clips: (ClipRow & { path: string })[];
  reports: (ReportRow & { path: string })[];
  /** the last change of anything in it */
  changed_at: string;
}

/**
 * Gathers a study at one moment; what is computed of it follows when the store is let go of.
 * @throws Refusal 404 where there is none
 */
export async function gatherPackage(studyId: number): Promise<GatheredPackage> {
  const { study, runs, document, files, photographs, clips, reports, stored, origin, channels } = await transaction((db) =>
    storedParts(db, studyId),
  );
  document.comparison.lab_scatter = await historyFor(runs, origin);
  const pictures: PackageRow[] = [];
  for (const photograph of photographs) pictures.push(await photographRow(photograph));
  const tables: Record<string, PackageRow[]> = {
    ...Object.fromEntries(Object.entries(stored).map(([name, rows]) => [name, rows.map(plainRow)])),
    ...runTables(runs),
    files: files.map(({ run_id, position, kind, name, path, size, sha256 }) => ({
      ...{ run_id, position, kind, name, path, bytes: size, sha256: sha256.toString('hex') },
    })),
    photographs: pictures,
    clips: clips.map(plainRow),
    reports: reports.map(({ content: _, study_id: __, changes, ...report }) => plainRow({ ...report, changes: JSON.stringify(changes) })),
  };
  const reductions = new Map(runs.map((r) => [r.id, r.result]));
  const { facts, level } = gatheredFrom({ document, tables: tables as never, reductions });
  document.comparison.confidence = level.confidence;
  Object.assign(tables, comparisonRows(await exchangeThreads.packagedComparisons({ facts, confidence: level.confidence })));
  const samples = sampledRuns(runs, channels);
  return { document, tables, files, samples, photographs, clips, reports, changed_at: lastMoment(study, tables) };
}

/** All rows of a study, as they stood at one moment. */
async function storedParts(db: Client, studyId: number) {
  await execute(db)`set transaction isolation level repeatable read, read only`;
  const study = await getStudy(db, studyId);
  if (!study) throw new Refusal(`There is no study ${studyId}.`, 404);
  const runs = await listRuns(db, studyId);
  const reports: GatheredPackage['reports'] = [];
  for (const { address } of (await listReports(db, studyId)).reverse()) {
    const report = await getReport(db, address);
    if (report) reports.push({ ...report, path: `report/report-v${report.number}.json` });
  }
  const origin = await getOrigin(db, studyId);
  return {
    ...{ study, runs, reports, origin, document: await documentOf(db, study, origin) },
    files: namedFiles(await runFileRows(db, studyId), runs),
    channels: await channelRows(db, studyId),
    photographs: (await photographRows(db, studyId)).map((p) => ({ ...p, path: `photographs/${p.id}.jpg` })),
    clips: (await clipRows(db, studyId)).map((c) => ({ ...c, path: `clips/${c.id}-${safeName(c.name)}` })),
    stored: {
      specimens: await specimenRows(db, studyId),
      mounts: await mountRows(db, studyId),
      tries: await tryRows(db, studyId),
      schedule: await scheduleRows(db, studyId),
      openings: await openingRows(db, studyId),
      faults: await faultRows(db, studyId),
      notes: await noteRows(db, studyId),
      recommendations: await recommendationRows(db, studyId),
      findings: await findingRows(db, studyId),
      decisions: await decisionRows(db, studyId),
    },
  };
}

function sampledRuns(runs: PlacedRun[], channels: (SampledChannel & { run_id: number })[]): GatheredPackage['samples'] {
  const of = new Map<number, SampledChannel[]>();
  for (const { run_id, ...channel } of channels) of.set(run_id, [...(of.get(run_id) ?? []), channel]);
  return runs.flatMap(({ id, started_at, result }) => {
    const own = of.get(id);
    if (!own) return [];
    return [
      { run_id: id, start_ms: started_at?.getTime() ?? null, period_s: result.period_s, duration_s: result.duration_s, channels: own },
    ];
  });
}

/** What of a study is no table; the lab's scatter and the confidence are told later. */
async function documentOf(db: Client, study: StudyRow, origin: OriginRow | null): Promise<StudyDocument> {
  const { id, title, question, margin_k, confidence, scatter, reduction, plan, created_at } = study;
  return {
    ...{ format: STUDY_FORMAT, version: STUDY_VERSION, program: { name: 'Warm Gauge', version: packageJson.version } },
    lab: origin?.lab ?? (await labSettings(db)).lab,
    study: {
      id,
      title,
      question,
      margin_k,
      confidence,
      scatter,
      reduction,
      plan: plan as Record<string, unknown>,
      created_at: created_at.toISOString(),
      ...(await planState(db, id)),
    },
    specimens: await specimenPlans(db, id),
    tries: await tryRecords(db, id),
    runs: await packagedRuns(db, id),
    prints: await packagedPrints(db, id),
    report_draft: (await getDraft(db, id))?.sections ?? null,
    shelf: {
      materials: await packagedMaterials(db, id),
      coolers: await packagedCoolers(db, id),
      fans: await packagedFans(db, id),
      instruments: await packagedInstruments(db, id),
      rigs: await packagedRigs(db, id),
    },
    comparison: { confidence, lab_scatter: [], verdicts_shown: await listVerdictsShown(db, id) },
  };
}

/** The tables of runs and what is read of them. */
function runTables(runs: PlacedRun[]): Record<'runs' | 'sensors' | 'steps' | 'times', PackageRow[]> {
  const read = runs.map((r) => ({ r, rows: computedRows(r.id, { ...r.result, findings: [] }) }));
  return {
    runs: read.map(({ r, rows }) => ({
      ...{ mount_id: r.mount_id, number: r.number, started_at: r.started_at?.toISOString() ?? null, started_zoned: r.started_zoned },
      day: r.bench_day ?? (r.started_at ? calendarDay(r.started_at.getTime() / 1000, r.started_zoned) : null),
      ...{ load: r.load, source: r.typed ? 'display' : 'logs', judged: r.judged, excluded_reason: r.run_excluded_reason },
      created_at: r.created_at.toISOString(),
      ...rows.runs,
    })),
    sensors: read.flatMap(({ rows }) => rows.sensors),
    steps: read.flatMap(({ rows }) => rows.steps),
    times: read.flatMap(({ rows }) => rows.times),
  };
}

/** A photograph as a row of its table. */
async function photographRow(photograph: GatheredPackage['photographs'][number]): Promise<PackageRow> {
  const found = await readPicture(database(), photograph.id, 'photograph');
  if (!found?.intact) throw damaged(`photograph ${photograph.id}`);
  return { ...plainRow(photograph), ...(await pictureFigures(found.picture)) };
}

/** A row of the store as a row of a table: moments in UTC. */
const plainRow = (row: object): PackageRow =>
  Object.fromEntries(Object.entries(row).map(([name, value]) => [name, value instanceof Date ? value.toISOString() : value])) as PackageRow;

/** Where each file lies in the package: under the number of its run, by the name it came with as far as that is a name. */
function namedFiles(files: RunFileRow[], runs: PlacedRun[]): GatheredPackage['files'] {
  const order = new Map(runs.map((r, i) => [r.id, i]));
  return files
    .map((f) => ({ ...f, path: `logs/${f.run_id}/${f.position}-${safeName(f.name)}` }))
    .sort((a, b) => (order.get(a.run_id) ?? 0) - (order.get(b.run_id) ?? 0) || a.position - b.position);
}

/** A name that every file system takes. */
const safeName = (name: string): string =>
  name
    .normalize('NFKD')
    .replace(/[^A-Za-z0-9._-]+/g, '_')
    .replace(/^[._]+/, '')
    .slice(-80) || 'file';

function lastMoment(study: StudyRow, tables: Record<string, PackageRow[]>): string {
  const MOMENTS = TABLES.flatMap((t) => t.fields.filter((f) => f.type === 'datetime' && f.name !== 'started_at').map((f) => f.name));
  const all = Object.values(tables).flatMap((rows) =>
    rows.flatMap((row) => MOMENTS.flatMap((name) => (typeof row[name] === 'string' ? [row[name]] : []))),
  );
  return [study.created_at.toISOString(), ...all].sort().at(-1) as string;
}
