import { database } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import type { NewStudy } from '#features/study/model/newStudy';
import { listStudies } from '#features/study/store/studies';
import { insertNewStudy } from './newStudy';

/** Opens a study; its title must be free. */
export async function openStudy(study: NewStudy): Promise<number> {
  const title = study.title.trim();
  if (title === '') throw new Refusal('Give the study a title.');
  const id = await insertNewStudy(database(), { title, question: study.question?.trim() ?? '', margin_k: study.margin_k });
  if (id === null) throw new Refusal(`There is already a study "${title}"; take another title.`, 409);
  return id;
}

/** Titles that are taken. */
export const studyTitles = async (): Promise<string[]> => (await listStudies(database())).map((s) => s.title);
