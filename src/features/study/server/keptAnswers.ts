import { createHash } from 'node:crypto';
import { deserialize, serialize } from 'node:v8';
import { buildId } from '#app/buildId';
import { database } from '#app/database/pool';
import { getKept, keepAnswer, listKept } from '#features/study/store/keptAnswers';

/** Studies worked at once where nothing is kept of them yet. */
const AT_ONCE = 4;

/**
 * What a task tells of each of some studies: as it was kept where nothing of the study changed since, else computed and kept.
 * @param compute rests on what counts as a change of the study (migration 0027)
 * @param isStill whether what else an answer rests on is as it was
 */
export async function answersOf<T>(
  task: string,
  ids: number[],
  compute: (studyId: number) => Promise<T>,
  isStill: (answer: T) => boolean = () => true,
): Promise<Map<number, T>> {
  const build = buildId();
  const answers = new Map<number, T>();
  const rows = await listKept(database(), task, ids);
  const open = rows.filter((r) => {
    if (build === null || r.answer === null || r.key !== `${build}/${r.version}`) return true;
    const answer: T = deserialize(r.answer);
    if (!isStill(answer)) return true;
    answers.set(r.study_id, answer);
    return false;
  });
  const work = async () => {
    for (let next = open.pop(); next; next = open.pop()) {
      const { study_id, version } = next;
      const answer = await compute(study_id);
      answers.set(study_id, answer);
      // the version was read before: what changed meanwhile is computed again the next time
      if (build !== null) await keep(study_id, task, `${build}/${version}`, answer);
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, work));
  return answers;
}

/** An answer to a question: as it was kept where the same was asked of the study before, else computed and kept in its place. */
export async function answerTo<T>(studyId: number, task: string, question: unknown, compute: () => Promise<T>): Promise<T> {
  const build = buildId();
  if (build === null) return compute();
  const key = `${build}/${createHash('sha256').update(serialize(question)).digest('hex')}`;
  const kept = await getKept(database(), studyId, task, key);
  if (kept) return deserialize(kept);
  const answer = await compute();
  await keep(studyId, task, key, answer);
  return answer;
}

/** What cannot be kept, because the disk is full or the study gone, is computed again the next time. */
const keep = (studyId: number, task: string, key: string, answer: unknown) =>
  keepAnswer(database(), studyId, task, key, serialize(answer)).catch(() => {});
