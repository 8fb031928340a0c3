import { database } from '#app/database/pool';
import type { ListedStudy, ListQuery } from '#features/results/model/studyList';
import { type ListedRow, listStudyNames } from '#features/results/store/studyNames';
import { answersOf } from '#features/study/server/keptAnswers';
import { labHistory } from '#features/study/server/labHistory';
import { heldVerdict } from './coolersPlace';
import { arrangeResults } from './resultsPlace';
import { compareStudy, gatherStudy } from './studyResults';

/** What the list of studies tells of one. */
export interface StudyHead {
  specimens: number;
  mounts: number;
  runs: number;
  /** null while there is nothing to compare */
  verdict: { claim: string; basis: string } | null;
  /** lab that measured it, where that is another; empty where it has no name */
  lab: string | null;
  /** whether the verdict is that of coolers held alike */
  isHeld: boolean;
  /** the lab's own scatter that a specimen of one mount was judged by; empty where none needs it */
  borrowed: string;
}

/** A study of the list with what is told of it. */
export type ListedHead = ListedStudy & { id: number; head: StudyHead | null; isArchived: boolean };

/** Whether a list can only be made with every study's figures at hand. */
const needsAll = (query: ListQuery): boolean => query.state !== null || query.sort === 'runs' || query.group === 'state';

/** What the list tells of some studies; kept until something of them changes. */
async function studyHeads(ids: number[]): Promise<Map<number, StudyHead>> {
  const history = JSON.stringify(await labHistory(database()));
  return answersOf('head', ids, headOf, (head) => head.borrowed === '' || head.borrowed === history);
}

async function headOf(id: number): Promise<StudyHead> {
  const gathered = await gatherStudy(id);
  const results = await compareStudy(gathered);
  const held = await heldVerdict(results);
  const told = held ?? arrangeResults(results)?.headline ?? null;
  return {
    ...{ specimens: results.specimens.length, mounts: results.mounts.length, runs: results.runs, isHeld: held !== null },
    lab: gathered.origin && !gathered.origin.own ? gathered.origin.lab : null,
    verdict: told && { claim: told.claim, basis: told.basis },
    // what another lab's single mounts are judged by came with them
    borrowed: gathered.history.length === 0 || gathered.origin?.own === false ? '' : JSON.stringify(gathered.history),
  };
}

/**
 * The studies for a list: all by their names, and those figures that the list needs to be put in order by.
 * @param published whether a study has a report
 */
export async function listedStudies(query: ListQuery, published: (id: number) => boolean): Promise<ListedHead[]> {
  const rows = await listStudyNames(database(), query.text !== '');
  const heads = needsAll(query) ? await studyHeads(rows.map((r) => r.id)) : new Map<number, StudyHead>();
  return rows.map((r) => listed(r, heads.get(r.id) ?? null, published(r.id)));
}

/** The same studies with the figures of each. */
export async function withHeads(studies: ListedHead[]): Promise<(ListedHead & { head: StudyHead })[]> {
  const heads = await studyHeads(studies.map((s) => s.id));
  return studies.flatMap((s) => {
    const head = heads.get(s.id);
    // one that was deleted meanwhile is left out
    return head ? [{ ...s, head }] : [];
  });
}

const listed = (row: ListedRow, head: StudyHead | null, isPublished: boolean): ListedHead => ({
  ...{ id: row.id, title: row.title, question: row.question, varies: row.varies, opened: row.created_at, isArchived: row.archived },
  ...{ specimens: row.specimens, mounts: head?.mounts ?? 0, runs: head?.runs ?? 0, head },
  ...{ isTold: head?.verdict != null, isPublished },
});
