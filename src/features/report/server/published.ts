import { database } from '#app/database/pool';
import { damaged } from '#app/refusal';
import { labSettings } from '#app/settings';
import type { PublishedReport } from '#features/report/model/published';
import type { ReportRow } from '#features/report/store/reports';
import { getOrigin } from '#features/study/store/origins';
import { frozenReport } from './freeze';

/**
 * A published version with what stands around its content on a page of its own.
 * @throws Refusal 404 where there is none, 500 where it is not what was published
 */
export async function publishedReport(address: string | undefined): Promise<PublishedReport & { text: string }> {
  const { row, content, text, intact } = await frozenReport(address);
  // a page with a checksum carries nothing else than what has it
  if (!intact) throw damaged(`The report at ${address}`);
  const lab = (await getOrigin(database(), row.study_id))?.lab ?? (await labSettings()).lab;
  return { ...asPublished(row, lab), content, text };
}

/** A version's row as its page tells it. */
export const asPublished = (row: Omit<ReportRow, 'content'>, lab: string): Omit<PublishedReport, 'content'> => ({
  ...{ number: row.number, address: row.address, sha256: row.sha256, author: row.author || row.who, lab, changes: row.changes },
  frozen_at: row.frozen_at.toISOString(),
  withdrawn: row.withdrawn_at && { at: row.withdrawn_at.toISOString(), by: row.withdrawn_by, reason: row.withdrawn_reason },
});
