import { createHash } from 'node:crypto';
import { database, transaction } from '#app/database/pool';
import { damaged, Refusal } from '#app/refusal';
import { reportChanges } from '#features/report/model/changes';
import type { ReportContent } from '#features/report/model/content';
import { getReport, insertReport, listNewestReports, listReports, lockLastReport, type ReportRow } from '#features/report/store/reports';
import { reportContent } from './content';

/** Largest report that is kept. */
const MOST_BYTES = 40 * 1024 * 1024;

export type ReportVersion = Omit<ReportRow, 'content' | 'frozen_at' | 'withdrawn_at'> & { frozen_at: string; withdrawn_at: string | null };

/** The published versions of a study's report, the newest first. */
export const reportVersions = async (studyId: number): Promise<ReportVersion[]> =>
  (await listReports(database(), studyId)).map((r) => ({
    ...r,
    frozen_at: r.frozen_at.toISOString(),
    withdrawn_at: r.withdrawn_at?.toISOString() ?? null,
  }));

/** The newest version of each study's report that stands, by study. */
export const newestReports = async () => new Map((await listNewestReports(database())).map((r) => [r.study_id, r]));

/**
 * Freezes the report of a study as it stands: all it says and shows, with a checksum, at an address of its own, and what changed since the
 * version before.
 */
export async function freezeReport(studyId: number, given: Record<string, unknown>): Promise<{ address: string; number: number }> {
  const who = typeof given.who === 'string' ? given.who.trim().slice(0, 20) : '';
  const author = typeof given.author === 'string' ? given.author.trim() : '';
  if (author.length > 120) throw new Refusal('The author holds up to 120 characters.', 400, { field: 'author' });
  const content = await reportContent(studyId);
  if (!content.answer.analysis) throw new Refusal('There is nothing to publish yet: no run of the study is valid.', 409);
  const flagged = content.recommendations.filter((r) => r.checks.some((c) => c.state === 'changed' || c.state === 'gone'));
  if (flagged.length > 0 && given.insist !== true) {
    throw new Refusal(
      `The verdict under the recommendation for ${flagged.map((r) => r.reader).join(', ')} has changed since its words were written. Reword it, or publish anyway.`,
      409,
      { can_insist: true },
    );
  }
  const text = JSON.stringify(content);
  if (text.length > MOST_BYTES) throw new Refusal('The report is too large to be kept; split the study.', 413);
  return transaction(async (client) => {
    const last = await lockLastReport(client, studyId);
    const number = (last?.number ?? 0) + 1;
    const address = `${slug(content.title)}-${studyId}-v${number}`;
    await insertReport(client, {
      ...{ study_id: studyId, number, address, content: text, who, author },
      sha256: createHash('sha256').update(text).digest('hex'),
      changes: last ? reportChanges(JSON.parse(last.content), content) : [],
    });
    return { address, number };
  });
}

interface FrozenReport {
  row: Omit<ReportRow, 'content'>;
  text: string;
  content: ReportContent;
  /** whether the text still has the checksum it was frozen with */
  intact: boolean;
}

/** A published report by its address. */
export async function frozenReport(address: string | undefined): Promise<FrozenReport> {
  const row = address && /^[a-z0-9-]{4,80}$/.test(address) ? await getReport(database(), address) : null;
  if (!row) throw new Refusal('There is no report at this address.', 404);
  const { content: text, ...rest } = row;
  const intact = createHash('sha256').update(text).digest('hex') === row.sha256;
  try {
    return { row: rest, text, content: JSON.parse(text), intact };
  } catch {
    // one that still reads is shown with a word about its checksum
    throw damaged(`The report at ${address}`);
  }
}

function slug(title: string): string {
  const words = title
    .toLowerCase()
    .normalize('NFKD')
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 48);
  return words || 'report';
}
