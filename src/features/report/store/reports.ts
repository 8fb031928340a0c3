import type { Client } from '#app/database/pool';
import type { SectionDraft } from '#features/report/model/reportSections';

export async function getDraft(db: Client, studyId: number): Promise<{ sections: SectionDraft[]; version: number } | null> {
  const { rows } = await db.query<{ sections: SectionDraft[]; version: number }>(
    'select sections, version from report_drafts where study_id = $1',
    [studyId],
  );
  return rows[0] ?? null;
}

/** @returns the new version; null where someone else saved since the given one */
export async function saveDraft(db: Client, studyId: number, sections: SectionDraft[], version: number): Promise<number | null> {
  const { rows } = await db.query<{ version: number }>(
    `insert into report_drafts (study_id, sections) values ($1, $2)
     on conflict (study_id) do update set sections = $2, version = report_drafts.version + 1 where report_drafts.version = $3
     returning version`,
    [studyId, JSON.stringify(sections), version],
  );
  return rows[0]?.version ?? null;
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
  frozen_at: Date;
}

/** Versions of a study's report without their content, the newest first. */
export async function listReports(db: Client, studyId: number): Promise<Omit<ReportRow, 'content'>[]> {
  const { rows } = await db.query<Omit<ReportRow, 'content'>>(
    'select id, study_id, number, address, sha256, changes, who, frozen_at from reports where study_id = $1 order by number desc',
    [studyId],
  );
  return rows;
}

export async function getReport(db: Client, address: string): Promise<ReportRow | null> {
  const { rows } = await db.query<ReportRow>('select * from reports where address = $1', [address]);
  return rows[0] ?? null;
}

/** The newest version, held with its study until the transaction ends, so that two do not take the same number. */
export async function lockLastReport(db: Client, studyId: number): Promise<ReportRow | null> {
  await db.query('select from studies where id = $1 for update', [studyId]);
  const { rows } = await db.query<ReportRow>('select * from reports where study_id = $1 order by number desc limit 1', [studyId]);
  return rows[0] ?? null;
}

export async function insertReport(db: Client, r: Omit<ReportRow, 'id' | 'frozen_at'>): Promise<void> {
  await db.query('insert into reports (study_id, number, address, content, sha256, changes, who) values ($1, $2, $3, $4, $5, $6, $7)', [
    ...[r.study_id, r.number, r.address, r.content, r.sha256],
    JSON.stringify(r.changes),
    r.who,
  ]);
}
