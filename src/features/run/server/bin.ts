import { insertChange } from '#app/database/changes';
import { type Client, database, transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { list, plural } from '#core/text/words';
import { getRun } from '#features/run/store/runs';
import type { SectionKey } from '#features/shelf/model/sections';
import { putSheetBack } from '#features/shelf/store/sheets';
import { BIN_DAYS, BIN_KINDS, type BinKind } from '#features/study/model/binKinds';
import { Deletion } from '#features/study/model/binned';
import {
  type BinRow,
  type BinSubject,
  binnedSheet,
  binSubject,
  dropPhotographs,
  emptyBin,
  hasParent,
  insertBin,
  listBin,
  lockBin,
  restoreBin,
} from '#features/study/store/bin';
import { check } from '#rules/validation';
import { readFollowers } from './placedReading';

/** What is deleted with a thing, before anybody decides. */
export interface DeletionView {
  title: string;
  /** what goes with it, in words; empty where nothing does */
  contents: string;
}

/** What went with a thing, in words. */
const contentsOf = (kind: BinKind, s: BinSubject): string =>
  list([
    ...(kind !== 'mount' && s.mounts > 0 ? [plural(s.mounts, 'mount')] : []),
    ...(s.runs > 0 ? [plural(s.runs, 'run')] : []),
    ...(s.photographs > 0 ? [plural(s.photographs, 'photograph')] : []),
    ...(s.reports > 0 ? [plural(s.reports, 'published report')] : []),
  ]);

async function subjectOf(db: Client, kind: BinKind, id: number): Promise<BinSubject> {
  const subject = await binSubject(db, kind, id);
  if (!subject) throw new Refusal(`There is no ${kind} ${id}; it may have been deleted.`, 404);
  return subject;
}

/** What would go with a thing that is to be deleted. */
export async function deletionView(kind: string | null, id: number): Promise<DeletionView> {
  const of = BIN_KINDS.find((k) => k === kind);
  if (!of) throw new Refusal('Say what is to be deleted.');
  const subject = await subjectOf(database(), of, id);
  return { title: subject.title, contents: contentsOf(of, subject) };
}

/**
 * Deletes a thing into the bin, with all that goes with it.
 * @throws Refusal where it is not there, or a live run goes on on it
 */
export async function deleteThing(given: Record<string, unknown>): Promise<{ bin: number; title: string }> {
  const { kind, id, who, reason } = check(Deletion, given);
  await emptyOldBin();
  const deleted = await transaction(async (client) => {
    const subject = await subjectOf(client, kind, id);
    if (subject.live > 0) throw new Refusal(`A live run is under way on ${subject.title}. End it first, then delete.`, 409);
    const mount = kind === 'run' ? (await getRun(client, id))?.mount_id : undefined;
    const { study_id, title } = subject;
    const bin = await insertBin(client, { kind, subject_id: id, study_id, title, contents: contentsOf(kind, subject), who, reason });
    if (kind === 'run' || kind === 'mount')
      await insertChange(client, { subject: kind, subject_id: id, action: 'delete', who, reason, before: { title }, after: null });
    return { bin, title, mount };
  });
  if (deleted.mount) await readFollowers(deleted.mount);
  return { bin: deleted.bin, title: deleted.title };
}

/**
 * Brings a thing back from the bin with all that went with it.
 * @throws Refusal where it is not in the bin, or what it belongs to is not there
 */
export async function restoreThing(bin: number): Promise<{ kind: BinKind; subject_id: number; study_id: number | null; title: string }> {
  const entry = await transaction(async (client) => {
    const row = await demand(client, bin);
    if (!(await hasParent(client, row))) throw new Refusal(`What ${row.title} belonged to is deleted too. Restore that first.`, 409);
    if (row.kind === 'sheet') {
      const { section, row: sheet } = await binnedSheet(client, bin);
      await putSheetBack(client, section as SectionKey, sheet);
    }
    await restoreBin(client, row);
    if (row.kind === 'run' || row.kind === 'mount')
      await insertChange(client, {
        ...{
          subject: row.kind,
          subject_id: row.subject_id,
          action: 'restore',
          who: '',
          reason: '',
          before: null,
          after: { title: row.title },
        },
      });
    return row;
  });
  const mount = entry.kind === 'run' ? (await getRun(database(), entry.subject_id))?.mount_id : undefined;
  if (mount) await readFollowers(mount);
  const { kind, subject_id, study_id, title } = entry;
  return { kind, subject_id, study_id, title };
}

async function demand(db: Client, bin: number): Promise<BinRow> {
  const row = await lockBin(db, bin);
  if (!row) throw new Refusal('It is no longer in the bin: it was restored, or deleted for good.', 404);
  return row;
}

/** Deletes an entry of the bin for good. */
export const eraseThing = (bin: number): Promise<{ title: string }> =>
  transaction(async (client) => {
    const { title } = await demand(client, bin);
    await emptyBin(client, { id: bin });
    return { title };
  });

/** Deletes for good what has lain in the bin for its days. */
export async function emptyOldBin(): Promise<void> {
  await emptyBin(database(), { olderThanDays: BIN_DAYS });
  await dropPhotographs(database(), BIN_DAYS);
}

/** Deletes all that lies in the bin for good; gives how many things went. */
export const eraseAll = async (): Promise<{ erased: number }> => ({ erased: await transaction((client) => emptyBin(client, 'all')) });

/** Most entries shown at once. */
const MOST_SHOWN = 200;

/** What lies in the bin, the latest first, with the day it goes for good. */
export async function binView() {
  const rows = await listBin(database(), MOST_SHOWN);
  return {
    total: rows[0]?.total ?? 0,
    entries: rows.map(({ total, deleted_at, ...r }) => ({
      ...r,
      deleted_at: deleted_at.toISOString(),
      days_left: Math.max(0, Math.ceil(BIN_DAYS - (Date.now() - deleted_at.getTime()) / 86_400_000)),
    })),
  };
}
export type BinView = Awaited<ReturnType<typeof binView>>;
