import type { Client } from '#app/database/pool';
import { execute, many } from '#app/database/query';
import type { RestsOn } from '#features/results/model/recommendation';

interface RecommendationRow {
  id: number;
  study_id: number;
  position: number;
  reader: string;
  words: string;
  rests_on: RestsOn[];
  saved_at: Date;
}

/** The recommendations of a study in their order. */
export const listRecommendations = (db: Client, studyId: number) =>
  many<RecommendationRow>(db)`select * from recommendations where study_id = ${studyId} order by position, id`;

/** Holds a study's recommendations until the transaction ends. */
export const holdRecommendations = (db: Client, studyId: number) => execute(db)`select from studies where id = ${studyId} for update`;

/** Puts a study's recommendations in place of those there are. */
export async function replaceRecommendations(
  db: Client,
  studyId: number,
  list: Pick<RecommendationRow, 'reader' | 'words' | 'rests_on'>[],
): Promise<void> {
  await execute(db)`delete from recommendations where study_id = ${studyId}`;
  for (const [position, r] of list.entries()) {
    await execute(db)`
      insert into recommendations (study_id, position, reader, words, rests_on)
      values (${studyId}, ${position}, ${r.reader}, ${r.words}, ${JSON.stringify(r.rests_on)})`;
  }
}
