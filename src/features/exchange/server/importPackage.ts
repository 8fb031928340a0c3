import { createHash } from 'node:crypto';
import sharp from 'sharp';
import { type Client, transaction } from '#app/database/pool';
import { execute } from '#app/database/query';
import { Refusal } from '#app/refusal';
import type { Reduction } from '#core/signal/reduce/types';
import { plural } from '#core/text/words';
import type { ArrivalChoices, ArrivedStudy } from '#features/exchange/model/arrival';
import type { PackageRow } from '#features/exchange/model/packageTable';
import { computedRows } from '#features/exchange/model/runRows';
import type { PackagedRun, StudyDocument } from '#features/exchange/model/studyDocument';
import {
  insertPackagedClip,
  insertPackagedDecisions,
  insertPackagedFaults,
  insertPackagedLooks,
  insertPackagedMounts,
  insertPackagedNotes,
  insertPackagedOpenings,
  insertPackagedPhotograph,
  insertPackagedRecommendations,
  insertPackagedReport,
  insertPackagedRun,
  insertPackagedSchedule,
  insertPackagedSpecimens,
  insertPackagedStudy,
  insertPackagedTries,
  setReference,
  takenAddresses,
  tellResults,
} from '#features/exchange/store/arrivals';
import { type NumberedTable, type Numbers, reserveNumbers } from '#features/exchange/store/numbers';
import { ImprintFigures, ImprintReading } from '#features/mount/model/imprint';
import { upright } from '#features/mount/server/photographs';
import { reportAsMarkdown } from '#features/report/model/markdown';
import { ReportDraft } from '#features/report/model/sections';
import { saveDraft } from '#features/report/store/reports';
import { clipKind } from '#features/results/model/coolers/clip';
import { ReadingChoices } from '#features/run/model/importPlan';
import { reduceValues, TypedValues } from '#features/run/model/typedRun';
import { keepReading } from '#features/run/server/keepReading';
import { keepResults } from '#features/run/server/programResults';
import { linkRunFile } from '#features/run/store/logFiles';
import { insertFindings } from '#features/run/store/runs';
import { SpecimenPlan } from '#features/study/model/specimenPlan';
import { StudyPlan } from '#features/study/model/studyPlan';
import { insertOrigin } from '#features/study/store/origins';
import { check, RuleError } from '#rules/validation';
import { bringSheets, type SheetNumbers } from './arrivingSheets';
import { type OpenedPackage, PackageError } from './openPackage';
import { isLog, knownAlready, titleHere } from './previewPackage';
import { type PackageTables, type ReadPackage, readPackage } from './readPackage';
import { exchangeThreads } from './tasks';
import {
  comparisonDifferences,
  photographDifferences,
  type RecomputedRun,
  runDifferences,
  runName,
  startDifferences,
  typedWords,
} from './valueDifferences';

/** Differences that are kept; of more the number is. */
const MOST_KEPT = 200;

interface ArrivalOptions {
  choices?: ArrivalChoices;
  /** SHA-256 of the package itself */
  sha256: string;
  signal?: AbortSignal;
  /** told how many runs were read so far */
  say?: (done: number, total: number) => void;
}

/**
 * Brings the study of a package in, all of it or nothing: runs are read anew from their logs, verdicts are computed anew, and where either
 * differs from what the package says, that is listed.
 * @throws Refusal in a sentence where it does not hold together, breaks a rule, or is here already; PackageError where it cannot be read
 */
export async function importPackage(opened: OpenedPackage, options: ArrivalOptions): Promise<ArrivedStudy> {
  const { choices = {}, signal } = options;
  const read = await readPackage(opened, isLog);
  if (read.faults.length > 0) throw new Refusal(notWhole(read.faults));
  try {
    return await transaction(async (client) => {
      // two packages at once would be given each other's numbers
      await execute(client)`select pg_advisory_xact_lock(hashtextextended('packages', 0))`;
      return new Arrival(client, opened, read, { ...options, choices }).store();
    });
  } catch (error) {
    if (signal?.aborted) throw new Refusal('The import was cancelled. Nothing was stored.', 409);
    throw inWords(error);
  }
}

const notWhole = (faults: string[]): string =>
  `The package does not hold together, so nothing was stored: ${faults.slice(0, 3).join(' ')}${faults.length > 3 ? ` And ${plural(faults.length - 3, 'more fault')}.` : ''}`;

/** What went wrong as a sentence for the person; what is no fault of the package stays as it is. */
function inWords(error: unknown): unknown {
  if (error instanceof RuleError)
    return new Refusal(`The package breaks a rule, so nothing was stored: ${error.sentences.slice(0, 3).join(' ')}`);
  const { code, table, constraint, column } = error as { code?: string; table?: string; constraint?: string; column?: string };
  // a value of the wrong kind or length, or two things where one may be
  if (code && /^(22|23)/.test(code))
    return new Refusal(
      `The package holds what a study cannot hold (${[table, constraint ?? column ?? code].filter(Boolean).join(', ')}). Nothing was stored.`,
    );
  return error;
}

/** Tables of a package whose rows have numbers of the whole lab, and where they are stored. */
const NUMBERED = {
  specimens: 'all_specimens',
  mounts: 'all_mounts',
  tries: 'all_mount_attempts',
  schedule: 'all_planned_mounts',
  openings: 'mount_openings',
  faults: 'mount_faults',
  runs: 'all_runs',
  notes: 'all_run_notes',
  recommendations: 'recommendations',
  reports: 'reports',
  photographs: 'photographs',
  clips: 'sound_clips',
  decisions: 'changes',
} as const satisfies Record<string, NumberedTable>;
type NumberedRows = keyof typeof NUMBERED;

/** A study on its way into the store, inside one transaction. */
class Arrival {
  private readonly document: StudyDocument;
  private readonly tables: PackageTables;
  private numbers!: Record<NumberedRows, Numbers>;
  private sheets!: SheetNumbers;
  private study_id!: number;
  private rigs!: Map<string, number>;

  constructor(
    private readonly client: Client,
    private readonly opened: OpenedPackage,
    private readonly read: ReadPackage,
    private readonly options: ArrivalOptions & { choices: ArrivalChoices },
  ) {
    this.document = read.document;
    this.tables = read.tables;
  }

  async store(): Promise<ArrivedStudy> {
    const { client, document, options } = this;
    const known = await knownAlready(client, this.read);
    if (known) throw new Refusal(`${known} Nothing was stored.`, 409);
    await this.reserve();
    this.sheets = await bringSheets(client, document.shelf, options.choices.sheets ?? {}, this.numbers.photographs);
    this.rigs = new Map(document.shelf.rigs.map((r) => [r.name, this.sheets.of.rigs.get(r.id) as number]));
    const title = await this.storeStudy();
    await this.storeMounts();
    const { differences, unchecked, pairs } = await this.storeRuns();
    await insertPackagedNotes(client, this.placed('notes', { run_id: 'runs' }));
    const pictures = await this.storePhotographs();
    await this.storeClips();
    await this.storeWords();
    differences.push(...pictures.differences);
    unchecked.push(...pictures.unchecked);
    await this.noteOrigin(differences, unchecked);
    return { study_id: this.study_id, title, runs: this.tables.runs.length, pairs, differences, unchecked };
  }

  /** Numbers here for everything that has one. */
  private async reserve(): Promise<void> {
    const numbers: [NumberedRows, Numbers][] = [];
    for (const [name, table] of Object.entries(NUMBERED) as [NumberedRows, NumberedTable][])
      numbers.push([
        name,
        await reserveNumbers(
          this.client,
          table,
          this.tables[name].map((r) => r.id as number),
        ),
      ]);
    this.numbers = Object.fromEntries(numbers) as Record<NumberedRows, Numbers>;
    const { id } = this.document.study;
    this.study_id = (await reserveNumbers(this.client, 'all_studies', [id])).get(id) as number;
  }

  /** Rows of a table under their numbers here, with those of what they name. */
  private placed(table: NumberedRows, names: Record<string, NumberedRows> = {}): PackageRow[] {
    return this.tables[table].map((row) => ({
      ...row,
      id: this.numbers[table].get(row.id as number) as number,
      ...Object.fromEntries(Object.entries(names).map(([column, other]) => [column, this.numberOf(other, row[column])])),
    }));
  }

  private numberOf(table: NumberedRows, id: PackageRow[string] | undefined): number | null {
    if (id === null || id === undefined) return null;
    return this.numbers[table].get(id as number) ?? null;
  }

  private rigNamed(name: PackageRow[string]): number {
    const id = this.rigs.get(name as string);
    if (id === undefined) throw new Refusal(`The package names the rig ${name}, and has no sheet of it. Nothing was stored.`);
    return id;
  }

  private async storeStudy(): Promise<string> {
    const { client, document, study_id } = this;
    const { study } = document;
    const title = await titleHere(client, study.title);
    const plan: StudyPlan = { ...check(StudyPlan, study.plan) };
    if (plan.rigs) plan.rigs = plan.rigs.flatMap((id) => this.sheets.of.rigs.get(id) ?? []);
    await insertPackagedStudy(client, { ...study, id: study_id, title, plan: plan as Record<string, unknown> });
    const plans = new Map(document.specimens.map((s) => [s.id, s]));
    const rows = this.placed('specimens').map((row, i) => {
      const of = plans.get(this.tables.specimens[i].id as number);
      return {
        ...row,
        material_id: (of?.material_id && this.sheets.of.materials.get(of.material_id)) || null,
        cooler_id: (of?.cooler_id && this.sheets.of.coolers.get(of.cooler_id)) || null,
        plan: check(SpecimenPlan, of?.plan ?? {}) as never,
      } as PackageRow;
    });
    await insertPackagedSpecimens(client, study_id, rows);
    const reference = this.tables.specimens.find((s) => s.reference === true);
    if (reference) await setReference(client, study_id, this.numberOf('specimens', reference.id) as number);
    return title;
  }

  private async storeMounts(): Promise<void> {
    const { client, document, study_id } = this;
    const withRig = (rows: PackageRow[]) => rows.map((r) => ({ ...r, rig_id: this.rigNamed(r.rig) }));
    await insertPackagedMounts(client, withRig(this.placed('mounts', { specimen_id: 'specimens' })));
    const records = new Map(document.tries.map((t) => [this.numberOf('tries', t.id), t]));
    const tries = this.placed('tries', { mount_id: 'mounts' }).map((row) => {
      const { steps = {}, work = [] } = records.get(row.id as number) ?? {};
      return { ...row, steps, work } as unknown as PackageRow;
    });
    await insertPackagedTries(client, tries);
    await insertPackagedSchedule(client, study_id, withRig(this.placed('schedule', { specimen_id: 'specimens' })));
    await insertPackagedOpenings(client, this.placed('openings', { mount_id: 'mounts' }));
    await insertPackagedFaults(client, this.placed('faults', { mount_id: 'mounts' }));
  }

  /** Reads each run anew and stores it, then compares them anew; tells where that differs from what the package says. */
  private async storeRuns(): Promise<{ differences: string[]; unchecked: string[]; pairs: number }> {
    const { document, tables, options } = this;
    const reductions = new Map<number, Omit<Reduction, 'findings'>>();
    const differences: string[] = [];
    const unchecked: string[] = [];
    for (const [i, run] of document.runs.entries()) {
      options.say?.(i, document.runs.length);
      options.signal?.throwIfAborted();
      const row = tables.runs.find((r) => r.id === run.id) as PackageRow;
      const name = runName(row, tables);
      const read = await this.storeRun(run, row).catch((error: unknown) => {
        throw error instanceof Refusal ? new Refusal(`${name}: ${error.message}`, error.status, error.details) : error;
      });
      reductions.set(run.id, read.reduction);
      if (run.typed) unchecked.push(typedWords(name));
      differences.push(...runDifferences(name, computedRows(run.id, read.reduction), tables), ...startDifferences(name, row, read));
    }
    options.say?.(document.runs.length, document.runs.length);
    const compared = await comparisonDifferences({ document, tables, reductions }, (asked) => exchangeThreads.packagedComparisons(asked));
    return { differences: [...differences, ...compared.differences], unchecked, pairs: compared.pairs };
  }

  private async storeRun(run: PackagedRun, row: PackageRow): Promise<RecomputedRun> {
    const { client, opened, tables, options } = this;
    const id = this.numberOf('runs', run.id) as number;
    const files = tables.files.filter((f) => f.run_id === run.id);
    const typed = run.typed ? check(TypedValues, run.typed) : null;
    const reading = check(ReadingChoices, run.reading);
    const read = typed
      ? { reduction: reduceValues(typed, run.options), start_epoch_s: null, zoned: false, files: [] }
      : await keepReading(client, id, {
          ...{ reading, options: run.options, offsets: run.clock_offset_s, signal: options.signal },
          sources: files
            .filter((f) => f.kind === 'log')
            .map((f) => ({ name: f.name as string, size: opened.bytesOf(f.path as string), pieces: piecesOf(opened, f.path as string) })),
        });
    const { findings, ...result } = read.reduction;
    await insertPackagedRun(client, {
      ...{ id, import_id: run.import_id, mount_id: this.numberOf('mounts', row.mount_id) as number, number: row.number as number },
      ...{ started_at: row.started_at as string | null, started_zoned: row.started_zoned as boolean, bench_day: row.day as string | null },
      ...{ load: row.load as string | null, created_at: row.created_at as string, judged: row.judged as string },
      excluded_reason: row.excluded_reason as string | null,
      ...{ reading, options: run.options, result, automatic: run.automatic, typed },
    });
    const logs = files.filter((f) => f.kind === 'log');
    for (const [position, file] of read.files.entries()) {
      this.refuseOther(logs[position], file.hash);
      await linkRunFile(client, id, position, file.hash, file.name);
    }
    await insertFindings(client, id, findings);
    for (const file of files.filter((f) => f.kind === 'results')) await this.storeResults(id, run, file);
    return read;
  }

  private async storeResults(runId: number, run: PackagedRun, file: PackageRow): Promise<void> {
    const bytes = await this.opened.bytes(file.path as string);
    this.refuseOther(file, createHash('sha256').update(bytes).digest());
    await keepResults(this.client, runId, [{ name: file.name as string, bytes }], true);
    const told = run.results.find((r) => r.sha256 === file.sha256);
    if (told) await tellResults(this.client, runId, Buffer.from(told.sha256, 'hex'), told.comparable, told.added_at);
  }

  /** A file has the hash that its table and the descriptor say. */
  private refuseOther({ path, sha256 }: PackageRow, hash: Buffer): void {
    const is = hash.toString('hex');
    const told = this.opened.descriptor.resources.find((r) => r.path === path)?.hash;
    if (sha256 !== is || told !== `sha256:${is}`)
      throw new Refusal(`${path} does not have the SHA-256 that the package says: it has ${is}. Nothing was stored.`);
  }

  /** Photographs that are in the package; those of a rig come along where the rig does. */
  private async storePhotographs(): Promise<{ differences: string[]; unchecked: string[] }> {
    const { client, opened, document, tables } = this;
    const found = await photographDifferences(opened, tables.photographs);
    const newRigs = new Set(document.shelf.rigs.flatMap((r) => (this.sheets.new_rigs.has(r.id) ? r.name : [])));
    const prints = new Map(document.prints.map((p) => [p.photograph_id, p]));
    for (const photograph of tables.photographs) {
      const path = photograph.path as string;
      if (!opened.has(path) || (photograph.rig !== null && !newRigs.has(photograph.rig as string))) continue;
      const print = photograph.face ? prints.get(photograph.id as number) : null;
      if (print === undefined) throw new Refusal(`study.json does not say how the print in ${path} was read. Nothing was stored.`);
      await insertPackagedPhotograph(
        client,
        {
          ...photograph,
          id: this.numberOf('photographs', photograph.id),
          mount_id: this.numberOf('mounts', photograph.mount_id),
          rig_id: photograph.rig === null ? null : this.rigNamed(photograph.rig),
        },
        {
          jpeg: await plainPicture(path, await opened.bytes(path)),
          view: print ? await plainPicture(path, await opened.bytes(path.replace(/\.jpg$/, '-view.jpg'))) : null,
          reading: print ? check(ImprintReading, print.reading) : null,
          figures: print ? check(ImprintFigures, print.figures) : null,
        },
      );
    }
    return found;
  }

  private async storeClips(): Promise<void> {
    for (const [i, clip] of this.placed('clips', { specimen_id: 'specimens' }).entries()) {
      const path = this.tables.clips[i].path as string;
      const bytes = await this.opened.bytes(path);
      const kind = clipKind(bytes);
      if (!kind) throw new Refusal(`${path} cannot be played as a clip; WAV, FLAC, Ogg, MP3 and M4A can. Nothing was stored.`);
      await insertPackagedClip(this.client, { ...clip, kind }, bytes);
    }
  }

  /** What persons wrote and decided: recommendations, the report with its versions, the journal. */
  private async storeWords(): Promise<void> {
    const { client, document, study_id } = this;
    await insertPackagedRecommendations(client, study_id, this.placed('recommendations'));
    const taken = new Set(
      await takenAddresses(
        client,
        this.tables.reports.map((r) => r.address as string),
      ),
    );
    for (const [i, report] of this.placed('reports').entries()) {
      const path = this.tables.reports[i].path as string;
      const content = await this.opened.text(path);
      refuseNoReport(path, content);
      const address = report.address as string;
      await insertPackagedReport(
        client,
        study_id,
        { ...report, address: taken.has(address) ? `${address.slice(0, 60)}-${study_id}-in` : address },
        content,
      );
    }
    if (document.report_draft) {
      const { sections } = check(ReportDraft, { sections: document.report_draft });
      await saveDraft(client, study_id, sections, 0);
    }
    await insertPackagedLooks(client, study_id, document.comparison.verdicts_shown);
    await insertPackagedDecisions(client, this.decisions());
  }

  private decisions(): PackageRow[] {
    const subjects: Record<string, NumberedRows> = { run: 'runs', mount: 'mounts', report: 'reports' };
    return this.placed('decisions', { undoes: 'decisions' }).map((row) => {
      const subject_id = Object.hasOwn(subjects, row.subject as string)
        ? this.numberOf(subjects[row.subject as string], row.subject_id)
        : null;
      if (subject_id === null)
        throw new Refusal(
          `tables/decisions.csv: decision ${row.id} is about ${row.subject} ${row.subject_id}, which is not in the package. Nothing was stored.`,
        );
      return { ...row, subject_id };
    });
  }

  private async noteOrigin(differences: string[], unchecked: string[]): Promise<void> {
    const { document, options } = this;
    const { created } = this.opened.descriptor;
    const kept = (lines: string[]) =>
      lines.length > MOST_KEPT ? [...lines.slice(0, MOST_KEPT), `and ${lines.length - MOST_KEPT} more.`] : lines;
    await insertOrigin(this.client, this.study_id, {
      ...{ who: options.choices.who?.trim() ?? '', lab: document.lab, own: options.choices.own ?? false, sha256: options.sha256 },
      program: `${document.program.name} ${document.program.version}`.slice(0, 80),
      packaged_at: Number.isNaN(Date.parse(created)) ? null : new Date(created),
      ...{ lab_scatter: document.comparison.lab_scatter, differences: kept(differences), unchecked: kept(unchecked) },
    });
  }
}

async function* piecesOf(opened: OpenedPackage, path: string): AsyncGenerator<Uint8Array> {
  yield* await opened.stream(path);
}

/** A picture as it is where it is a plain JPEG; one that tells where or with what it was taken is written anew without that. */
async function plainPicture(path: string, bytes: Buffer): Promise<Buffer> {
  const about = await sharp(bytes, { limitInputPixels: 60_000_000 })
    .metadata()
    .catch(() => null);
  if (!about) throw new Refusal(`${path} cannot be opened as a photograph. Nothing was stored.`);
  const isPlain = about.format === 'jpeg' && !about.exif && !about.iptc && !about.xmp;
  return isPlain ? bytes : (await upright(bytes)).jpeg;
}

/** A report has to be one that can be shown, not only bytes with a hash. */
function refuseNoReport(path: string, content: string): void {
  try {
    reportAsMarkdown(JSON.parse(content));
  } catch {
    throw new Refusal(`${path} is not a report that can be shown. Nothing was stored.`);
  }
}

/** SHA-256 of a package, by which its origin is known. */
export async function packageHash(pieces: AsyncIterable<Uint8Array>): Promise<string> {
  const hash = createHash('sha256');
  for await (const piece of pieces) hash.update(piece);
  return hash.digest('hex');
}

/** A sentence for what went wrong with a package; null where it is no fault of the package. */
export const packageProblem = (error: unknown): string | null =>
  error instanceof PackageError || error instanceof Refusal ? error.message : null;
