import { transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { copyPlan, setStudyArchived } from '#features/study/store/copies';
import { getStudy, listStudies } from '#features/study/store/studies';

/** Copies a study without its data: question, plan, specimens and loads, under a title that is free. */
export const copyStudy = (id: number, given: Record<string, unknown>): Promise<{ id: number; title: string }> =>
  transaction(async (client) => {
    const study = await getStudy(client, id);
    if (!study) throw new Refusal(`There is no study ${id}.`, 404);
    const wanted = typeof given.title === 'string' ? given.title.trim() : '';
    if (wanted.length > 120) throw new Refusal('The title holds up to 120 characters.', 400, { field: 'title' });
    const titles = new Set((await listStudies(client)).map((s) => s.title));
    if (wanted !== '' && titles.has(wanted)) throw new Refusal(`There is already a study "${wanted}"; take another title.`, 409);
    let title = wanted;
    for (let n = 1; title === '' || titles.has(title); n++) title = `${study.title.slice(0, 100)} (copy${n === 1 ? '' : ` ${n}`})`;
    return { id: await copyPlan(client, id, title), title };
  });

/** Archives a study, out of the lists of what is to be done, or takes it up again. */
export async function archiveStudy(id: number, given: Record<string, unknown>): Promise<{ archived: boolean }> {
  if (typeof given.archived !== 'boolean') throw new Refusal('Say whether the study is archived.');
  const { archived } = given;
  await transaction(async (client) => {
    if (!(await setStudyArchived(client, id, archived))) throw new Refusal(`There is no study ${id}.`, 404);
  });
  return { archived };
}
