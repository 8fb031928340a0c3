import { transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { setOwn } from '#features/study/store/origins';

/** Says of a study that came in whether this lab measured it, on another machine. */
export async function changeOrigin(studyId: number, given: Record<string, unknown>): Promise<{ own: boolean }> {
  const { own } = given;
  if (typeof own !== 'boolean') throw new Refusal('Say whether the study is your own.');
  if (!(await transaction((client) => setOwn(client, studyId, own))))
    throw new Refusal(`Study ${studyId} did not come from elsewhere.`, 404);
  return { own };
}
