import type { Client } from '#app/database/pool';
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

export async function listRecommendations(db: Client, studyId: number): Promise<RecommendationRow[]> {
  const { rows } = await db.query<RecommendationRow>('select * from recommendations where study_id = $1 order by position, id', [studyId]);
  return rows;
}

/** Puts a study's recommendations in place of those there are. */
export async function replaceRecommendations(
  db: Client,
  studyId: number,
  list: Pick<RecommendationRow, 'reader' | 'words' | 'rests_on'>[],
): Promise<void> {
  await db.query('select from studies where id = $1 for update', [studyId]);
  await db.query('delete from recommendations where study_id = $1', [studyId]);
  for (const [position, r] of list.entries()) {
    await db.query('insert into recommendations (study_id, position, reader, words, rests_on) values ($1, $2, $3, $4, $5)', [
      ...[studyId, position, r.reader, r.words],
      JSON.stringify(r.rests_on),
    ]);
  }
}
