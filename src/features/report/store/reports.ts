import type { Client } from '#app/database/pool';
import { execute, first, many, touches } from '#app/database/query';
import type { SectionDraft } from '#features/report/model/reportSections';

/** How a study’s report is put together; null where nobody changed it yet. */
export const getDraft = (db: Client, studyId: number) =>
  first<{ sections: SectionDraft[]; version: number }>(db)`select sections, version from report_drafts where study_id = ${studyId}`;

/** @returns the new version; null where someone else saved since the given one */
export async function saveDraft(db: Client, studyId: number, sections: SectionDraft[], version: number): Promise<number | null> {
  const kept = JSON.stringify(sections);
  const row = await first<{ version: number }>(db)`
    insert into report_drafts (study_id, sections) values (${studyId}, ${kept})
    on conflict (study_id) do update set sections = ${kept}, version = report_drafts.version + 1 where report_drafts.version = ${version}
    returning version`;
  return row?.version ?? null;
}

export interface ReportRow {
  id: number;
  study_id: number;
  number: number;
  address: string;
  content: string;
  sha256: string;
  changes: string[];
  who: string;
  /** as a reader cites it; empty where none was given */
  author: string;
  frozen_at: Date;
  withdrawn_at: Date | null;
  withdrawn_by: string;
  withdrawn_reason: string;
}

/** Versions of a study's report without their content, the newest first. */
export const listReports = (db: Client, studyId: number) =>
  many<Omit<ReportRow, 'content'>>(db)`
    select id, study_id, number, address, sha256, changes, who, author, frozen_at, withdrawn_at, withdrawn_by, withdrawn_reason
    from reports where study_id = ${studyId} order by number desc`;

/** A frozen report by its address; null where there is none, or its study lies in the bin. */
export const getReport = (db: Client, address: string) =>
  first<ReportRow>(db)`select r.* from reports r join studies s on s.id = r.study_id where r.address = ${address}`;

/** The newest version, held with its study until the transaction ends, so that two do not take the same number. */
export async function lockLastReport(db: Client, studyId: number): Promise<ReportRow | null> {
  await execute(db)`select from studies where id = ${studyId} for update`;
  return first<ReportRow>(db)`select * from reports where study_id = ${studyId} order by number desc limit 1`;
}

/** Freezes a version of a report. */
export const insertReport = (
  db: Client,
  r: Omit<ReportRow, 'id' | 'frozen_at' | 'withdrawn_at' | 'withdrawn_by' | 'withdrawn_reason'>,
) => execute(db)`
  insert into reports (study_id, number, address, content, sha256, changes, who, author)
  values (${r.study_id}, ${r.number}, ${r.address}, ${r.content}, ${r.sha256}, ${JSON.stringify(r.changes)}, ${r.who}, ${r.author})`;

/** Withdraws a version or takes that back; false where it stands so already. */
export const setWithdrawn = (db: Client, id: number, withdrawn: boolean, reason: string, who: string) => touches(db)`
  update reports set withdrawn_at = case when ${withdrawn} then now() end, withdrawn_reason = ${withdrawn ? reason : ''},
    withdrawn_by = ${withdrawn ? who : ''}
  where id = ${id} and (withdrawn_at is not null) <> ${withdrawn}`;

/** The newest version of every study's report that stands, and how many there are. */
export const listNewestReports = (db: Client) => many<{ study_id: number; number: number; address: string; versions: number }>(db)`
  select distinct on (study_id) study_id, number, address, count(*) over (partition by study_id) as versions
  from reports where withdrawn_at is null order by study_id, number desc`;
