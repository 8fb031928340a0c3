import { type Client, database } from '#app/database/pool';
import { labSettings } from '#app/settings';
import type { ArrivalPreview } from '#features/exchange/model/arrival';
import { findKnownImport, findKnownLog } from '#features/exchange/store/arrivals';
import { freshTitle } from '#features/run/model/batch';
import { refuseDuplicate } from '#features/run/server/keepReading';
import { describeRun } from '#features/run/server/runView';
import { getRun } from '#features/run/store/runs';
import { listTitles } from '#features/study/store/studies';
import { arrivingSheets } from './arrivingSheets';
import type { OpenedPackage } from './openPackage';
import { type ReadPackage, readPackage } from './readPackage';

const MOST_TITLE = 120;
const MOST_PROBLEMS = 20;

/** Logs are large: they are held against their hashes as they are read. */
export const isLog = (path: string): boolean => path.startsWith('logs/');

/**
 * What a package would bring, and what is here already; nothing is stored.
 * @throws PackageError where it cannot be read
 */
export async function previewPackage(opened: OpenedPackage): Promise<ArrivalPreview> {
  const read = await readPackage(opened, isLog);
  const { document, tables, faults } = read;
  const db = database();
  const known = faults.length > 0 ? null : await knownAlready(db, read);
  const left = tables.photographs.filter((p) => !opened.has(p.path as string)).length;
  const { lab } = await labSettings(db);
  return {
    ...{ title: document.study.title, titled: await titleHere(db, document.study.title), question: document.study.question },
    ...{ lab: document.lab, program: `${document.program.name} ${document.program.version}`, created: opened.descriptor.created },
    bytes: opened.descriptor.resources.reduce((sum, r) => sum + r.bytes, 0),
    counts: {
      ...{ specimens: tables.specimens.length, mounts: tables.mounts.length, runs: tables.runs.length },
      ...{ photographs: tables.photographs.length - left, reports: tables.reports.length },
    },
    photographs_left_out: left,
    sheets: await arrivingSheets(db, document.shelf),
    own: lab !== '' && lab === document.lab,
    problems: [...faults, ...(known ? [known] : [])].slice(0, MOST_PROBLEMS),
  };
}

/** The title under which a study comes in: its own, or one that no study here has. */
export const titleHere = async (db: Client, title: string): Promise<string> => {
  const taken = (await listTitles(db)).map((s) => s.title);
  return taken.includes(title)
    ? freshTitle(title.slice(0, MOST_TITLE - 8), [...taken, ...(title.length > MOST_TITLE - 8 ? [title.slice(0, MOST_TITLE - 8)] : [])])
    : title;
};

/** That runs of a package are here already, as a sentence; null where none is. */
export async function knownAlready(db: Client, { document, tables }: ReadPackage): Promise<string | null> {
  const logs = tables.files.filter((f) => f.kind === 'log' && f.position === 0);
  const hash = await findKnownLog(
    db,
    logs.map((f) => f.sha256 as string),
  );
  if (hash) {
    const name = logs.find((f) => f.sha256 === hash.toString('hex'))?.name as string;
    return refuseDuplicate(db, name, hash).then(
      () => null,
      (error: Error) => `This study, or a part of it, is here already. ${error.message}`,
    );
  }
  const run = await findKnownImport(
    db,
    document.runs.map((r) => r.import_id),
  );
  if (!run) return null;
  const placed = await getRun(db, run.id);
  return `This study, or a part of it, is here already: ${placed ? describeRun(placed) : 'a run of it lies in the bin'}. A run counts once.`;
}
