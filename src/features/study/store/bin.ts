import type { Client } from '#app/database/pool';
import { execute, first, many, only, type Statement, sql, touches } from '#app/database/query';
import type { BinKind } from '#features/study/model/binKinds';

/** One entry of the bin. */
export interface BinRow {
  id: number;
  kind: BinKind;
  subject_id: number;
  study_id: number | null;
  title: string;
  /** what went with it, in words; empty where nothing did */
  contents: string;
  who: string;
  reason: string;
  deleted_at: Date;
  /** of the shelf, where it is a sheet */
  section: string | null;
}

/** A thing as it stands before it is deleted: what it is called, whose it is, and how much goes with it. */
export interface BinSubject {
  study_id: number;
  title: string;
  mounts: number;
  runs: number;
  photographs: number;
  reports: number;
  /** live runs that go on now on what would be deleted */
  live: number;
}

/** Mounts that a study, specimen or mount holds, those in the bin among them. */
const OF_MOUNTS = (kind: BinKind, id: number): Statement => {
  if (kind === 'study') return sql`select m.id from all_mounts m join all_specimens s on s.id = m.specimen_id where s.study_id = ${id}`;
  if (kind === 'specimen') return sql`select id from all_mounts where specimen_id = ${id}`;
  return sql`select ${id}::bigint where ${kind === 'mount'}`;
};

const OF_NAMES: Record<BinKind, (id: number) => Statement> = {
  study: (id) => sql`select id as study_id, title from studies where id = ${id}`,
  specimen: (id) => sql`select study_id, name as title from specimens where id = ${id}`,
  mount: (id) => sql`select study_id, specimen || ', mount ' || mount as title from placed_mounts where mount_id = ${id}`,
  try: (id) => sql`
    select study_id, specimen || ', mount ' || mount || ', try ' || a.number as title
    from mount_attempts a join placed_mounts using (mount_id) where a.id = ${id}`,
  run: (id) => sql`
    select study_id, specimen || ', mount ' || mount || ', run ' || r.number as title from runs r join placed_mounts using (mount_id)
    where r.id = ${id}`,
  note: (id) => sql`
    select study_id, left(n.text, 60) || ' (' || specimen || ', mount ' || mount || ', run ' || r.number || ')' as title
    from run_notes n join runs r on r.id = n.run_id join placed_mounts using (mount_id) where n.id = ${id}`,
  // a sheet is deleted from the shelf, by its section
  sheet: () => sql`select null::bigint as study_id, ''::text as title where false`,
  draft: (id) => sql`
    select study_id, 'Report of ' || s.title as title from report_drafts d join studies s on s.id = d.study_id where study_id = ${id}`,
};

/** What would be deleted; null where it is not there. */
export const binSubject = (db: Client, kind: BinKind, id: number) => first<BinSubject>(db)`
  select n.study_id, n.title,
         (select count(*) from mounts where id in (${OF_MOUNTS(kind, id)})) as mounts,
         (select count(*) from runs where mount_id in (${OF_MOUNTS(kind, id)})) as runs,
         (select count(*) from photographs where removed_at is null and mount_id in (${OF_MOUNTS(kind, id)})) as photographs,
         (select count(*) from reports where ${kind === 'study'} and study_id = ${id}) as reports,
         (select count(*) from live_runs where ended_at is null and mount_id in (${OF_MOUNTS(kind, id)})) as live
  from (${OF_NAMES[kind](id)}) n`;

/** Marks a thing and all that goes with it as deleted; gives the entry of the bin. */
export async function insertBin(db: Client, entry: Omit<BinRow, 'id' | 'deleted_at' | 'section'>): Promise<number> {
  const { kind, subject_id: id } = entry;
  const made = await only<{ id: number }>(db)`
    insert into bin (kind, subject_id, study_id, title, contents, who, reason, payload)
    values (${kind}, ${id}, ${entry.study_id}, ${entry.title}, ${entry.contents}, ${entry.who}, ${entry.reason},
      (select to_jsonb(d) from report_drafts d where ${kind === 'draft'} and study_id = ${id}))
    returning id`;
  const bin = made.id;
  if (kind === 'draft') await execute(db)`delete from report_drafts where study_id = ${id}`;
  if (kind === 'note') await execute(db)`update all_run_notes set binned = ${bin} where id = ${id}`;
  if (kind === 'try') await execute(db)`update all_mount_attempts set binned = ${bin} where id = ${id}`;
  const runs = kind === 'run' ? sql`select ${id}::bigint` : sql`select id from all_runs where mount_id in (${OF_MOUNTS(kind, id)})`;
  await execute(db)`update all_run_notes set binned = ${bin} where binned is null and run_id in (${runs})`;
  await execute(db)`update all_runs set binned = ${bin} where binned is null and id in (${runs})`;
  await execute(db)`update all_mount_attempts set binned = ${bin} where binned is null and mount_id in (${OF_MOUNTS(kind, id)})`;
  await execute(db)`update all_mounts set binned = ${bin} where binned is null and id in (${OF_MOUNTS(kind, id)})`;
  if (kind === 'specimen' || kind === 'study') {
    const whose = kind === 'study' ? sql`study_id = ${id}` : sql`specimen_id = ${id}`;
    await execute(db)`update all_planned_mounts set binned = ${bin} where binned is null and ${whose}`;
    const which = kind === 'study' ? sql`study_id = ${id}` : sql`id = ${id}`;
    await execute(db)`update all_specimens set binned = ${bin} where binned is null and ${which}`;
  }
  if (kind === 'specimen') await passReference(db, entry.study_id as number, bin);
  if (kind === 'study') await execute(db)`update all_studies set binned = ${bin} where id = ${id}`;
  return bin;
}

/** Notes a sheet of the shelf that was deleted, with its row as it was; gives the entry of the bin. */
export const insertSheetBin = async (db: Client, section: string, row: { id: number }, title: string): Promise<number> =>
  (
    await only<{ id: number }>(db)`
      insert into bin (kind, subject_id, title, payload) values ('sheet', ${row.id}, ${title}, ${{ section, row }}) returning id`
  ).id;

/** The sheet that an entry of the bin holds, with its section. */
export const binnedSheet = async (db: Client, bin: number) =>
  (await only<{ payload: { section: string; row: { id: number; name: string } } }>(db)`select payload from bin where id = ${bin}`).payload;

/** A reference that was deleted is followed by the first specimen there is; the entry keeps that it was the reference. */
async function passReference(db: Client, studyId: number, bin: number): Promise<void> {
  const passed = await touches(db)`
    update studies set reference_id = (select id from specimens where study_id = ${studyId} order by position limit 1)
    where id = ${studyId} and reference_id in (select id from all_specimens where binned = ${bin})`;
  if (passed) await execute(db)`update bin set payload = '{"reference": true}' where id = ${bin}`;
}

const COLUMNS = sql`
  b.id, b.kind, b.subject_id, b.study_id, b.title, b.contents, b.who, b.reason, b.deleted_at, b.payload ->> 'section' as section`;

/** What lies in the bin, the latest first; what lies in a study that was deleted itself comes back with that. */
export const listBin = (db: Client, most: number) => many<BinRow & { study: string | null; total: number }>(db)`
  select ${COLUMNS}, s.title as study, count(*) over () as total from bin b left join studies s on s.id = b.study_id
  where b.kind in ('study', 'sheet') or s.id is not null order by b.id desc limit ${most}`;

/** An entry of the bin, held until the transaction ends; null where there is none. */
export const lockBin = (db: Client, id: number) => first<BinRow>(db)`select ${COLUMNS} from bin b where b.id = ${id} for update`;

/** Whether what a thing belongs to is there, so that it can come back. */
export async function hasParent(db: Client, { kind, subject_id: id }: BinRow): Promise<boolean> {
  const OF_PARENT: Record<BinKind, Statement> = {
    study: sql`select 1 as there`,
    specimen: sql`select 1 as there from studies where id = (select study_id from all_specimens where id = ${id})`,
    mount: sql`select 1 as there from specimens where id = (select specimen_id from all_mounts where id = ${id})`,
    try: sql`select 1 as there from mounts where id = (select mount_id from all_mount_attempts where id = ${id})`,
    run: sql`select 1 as there from mounts where id = (select mount_id from all_runs where id = ${id})`,
    note: sql`select 1 as there from runs where id = (select run_id from all_run_notes where id = ${id})`,
    draft: sql`select 1 as there from studies where id = ${id}`,
    sheet: sql`select 1 as there`,
  };
  return (await many<{ there: number }>(db)`${OF_PARENT[kind]}`).length > 0;
}

/** Brings back a thing with all that went with it; a name or number that was taken meanwhile gives way to a free one. */
export async function restoreBin(db: Client, { id: bin, kind, subject_id: id }: BinRow): Promise<void> {
  if (kind === 'study')
    await execute(db)`
      update all_studies a set title = left(a.title, 100) || ' (restored ' || to_char(now(), 'YYYY-MM-DD HH24:MI:SS') || ')'
      where a.id = ${id} and exists (select from studies s where s.title = a.title)`;
  if (kind === 'specimen') {
    await execute(db)`
      update all_specimens a set name = left(a.name, 55) || ' (restored ' || to_char(now(), 'MM-DD HH24:MI:SS') || ')'
      where a.id = ${id} and exists (select from specimens s where s.study_id = a.study_id and s.name = a.name)`;
    await execute(db)`
      update all_specimens a set position = (select coalesce(max(position) + 1, 0) from specimens where study_id = a.study_id)
      where a.id = ${id} and exists (select from specimens s where s.study_id = a.study_id and s.position = a.position)`;
  }
  if (kind === 'mount')
    await execute(db)`
      update all_mounts a set number = (select coalesce(max(number) + 1, 1) from mounts where specimen_id = a.specimen_id)
      where a.id = ${id} and exists (select from mounts m where m.specimen_id = a.specimen_id and m.number = a.number)`;
  if (kind === 'run')
    await execute(db)`
      update all_runs a set number = (select coalesce(max(number) + 1, 1) from runs where mount_id = a.mount_id)
      where a.id = ${id} and exists (select from runs r where r.mount_id = a.mount_id and r.number = a.number)`;
  if (kind === 'try')
    await execute(db)`
      update all_mount_attempts a set number = (select coalesce(max(number) + 1, 1) from mount_attempts where mount_id = a.mount_id)
      where a.id = ${id} and exists (select from mount_attempts m where m.mount_id = a.mount_id and m.number = a.number)`;
  if (kind === 'draft')
    await execute(db)`
      insert into report_drafts select d.* from bin b cross join lateral jsonb_populate_record(null::report_drafts, b.payload) d
      where b.id = ${bin} on conflict do nothing`;
  await execute(db)`update all_studies set binned = null where binned = ${bin}`;
  await execute(db)`update all_specimens set binned = null where binned = ${bin}`;
  await execute(db)`update all_planned_mounts set binned = null where binned = ${bin}`;
  await execute(db)`update all_mounts set binned = null where binned = ${bin}`;
  await execute(db)`update all_mount_attempts set binned = null where binned = ${bin}`;
  await execute(db)`update all_runs set binned = null where binned = ${bin}`;
  await execute(db)`update all_run_notes set binned = null where binned = ${bin}`;
  if (kind === 'specimen')
    await execute(db)`
      update studies set reference_id = ${id}
      where id = (select study_id from specimens where id = ${id}) and (reference_id is null or
        exists (select from bin where id = ${bin} and payload -> 'reference' = 'true'))`;
  await execute(db)`delete from bin where id = ${bin}`;
}

/** Deletes for good what lies in the bin: one entry, all, or all that lies there longer than some days; gives how many went. */
export async function emptyBin(db: Client, which: { id: number } | { olderThanDays: number } | 'all'): Promise<number> {
  const chosen =
    which === 'all'
      ? sql`true`
      : 'id' in which
        ? sql`id = ${which.id}`
        : sql`deleted_at < now() - make_interval(days => ${which.olderThanDays}::int)`;
  const gone = await many<{ id: number }>(db)`delete from bin where ${chosen} returning id`;
  if (gone.length > 0) {
    // what went for good with the thing it belonged to
    await execute(db)`delete from bin where (kind = 'specimen' and not exists (select from all_specimens where id = subject_id))
      or (kind = 'mount' and not exists (select from all_mounts where id = subject_id))
      or (kind = 'try' and not exists (select from all_mount_attempts where id = subject_id))
      or (kind = 'run' and not exists (select from all_runs where id = subject_id))
      or (kind = 'note' and not exists (select from all_run_notes where id = subject_id))`;
    await execute(db)`delete from log_files f where not exists (select from run_files r where r.sha256 = f.sha256)
      and not exists (select from run_results r where r.sha256 = f.sha256)`;
  }
  return gone.length;
}

/** Photographs that were taken out of their mounts' records longer ago than some days are deleted for good. */
export const dropPhotographs = (db: Client, olderThanDays: number) =>
  execute(db)`delete from photographs where removed_at < now() - make_interval(days => ${olderThanDays}::int)`;

/** The run in the bin that rests on a file, by the SHA-256 of its bytes; null where there is none. */
export const binnedByFile = (db: Client, sha256: Buffer) => first<{ bin: number; title: string }>(db)`
  select b.id as bin, b.title from run_files f join all_runs r on r.id = f.run_id join bin b on b.id = r.binned
  where f.sha256 = ${sha256} and f.position = 0`;
