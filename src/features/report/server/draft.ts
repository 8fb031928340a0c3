import { database } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { completeSections, type SectionDraft } from '#features/report/model/reportSections';
import { ReportDraft } from '#features/report/model/sections';
import { getDraft, saveDraft } from '#features/report/store/reports';
import { getStudy } from '#features/study/store/studies';
import { check } from '#rules/validation';

export interface DraftView {
  sections: SectionDraft[];
  version: number;
}

/** The draft of a study’s report with all sections in their order. */
export async function draftView(studyId: number): Promise<DraftView> {
  const draft = await getDraft(database(), studyId);
  return { sections: completeSections(draft?.sections ?? []), version: draft?.version ?? 0 };
}

/** Stores order and words of a report; where someone else stored since, nothing is overwritten. */
export async function changeDraft(studyId: number, given: Record<string, unknown>): Promise<DraftView> {
  if (!(await getStudy(database(), studyId))) throw new Refusal(`There is no study ${studyId}.`, 404);
  const { version, ...rest } = given;
  if (!Number.isInteger(version)) throw new Refusal('Say which version of the draft was changed.');
  const { sections } = check(ReportDraft, rest);
  const saved = await saveDraft(database(), studyId, sections, version as number);
  if (saved === null)
    throw new Refusal('Somebody else changed the report meanwhile. Load the page again to see it; your words are still here to copy.', 409);
  return draftView(studyId);
}
