import { database, transaction } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import { BIN_DAYS } from '#features/study/model/binKinds';
import { StudyPlan } from '#features/study/model/studyPlan';
import { TemplateStudy } from '#features/study/model/templateStudy';
import { TEMPLATES } from '#features/study/model/templates';
import { getStudy } from '#features/study/store/studies';
import { insertTemplate, listTemplates, openTemplate, setTemplateDeleted, type TemplateRow } from '#features/study/store/templates';
import { check } from '#rules/validation';
import { changePlan } from './editPlan';
import { insertNewStudy } from './newStudy';
import { openSpecimen } from './opened';
import { planVersion } from './planView';

/** Opens a study from a question: its specimens by name, and a plan with what was answered; all the rest by default. */
export async function studyFromTemplate(given: Record<string, unknown>): Promise<{ id: number }> {
  const { template: key, title: wanted, names: entries, margin, days = null, clocks = null } = check(TemplateStudy, given);
  const template = TEMPLATES[key];
  const names = entries.map((e) => e.name.trim());
  if (new Set(names).size < names.length)
    throw new Refusal('Two of the names are the same; each is compared once.', 400, { field: 'names' });
  if (clocks && clocks.to < clocks.from) throw new Refusal('The highest clock is below the lowest.', 400, { field: 'clocks' });
  const title = wanted.trim();
  // a margin in K is bounded as in the plan; the whole plan is judged before anything is opened
  const margin_k = key === 'clock' ? 1 : margin;
  const plan = { ...template.plan({ names, margin, days, clocks }), margin_k };
  const changes = Object.fromEntries(Object.entries(plan).filter(([, v]) => v !== null && v !== undefined));
  check(StudyPlan, changes);
  const id = await transaction(async (client) => {
    const study = await insertNewStudy(client, { title, question: template.question, margin_k });
    if (study === null) throw new Refusal(`There is already a study "${title}"; take another title.`, 409, { field: 'title' });
    for (const name of names) await openSpecimen(client, study, { specimen_name: name, specimen_kind: template.kind });
    return study;
  });
  await changePlan(id, { base: await planVersion(id), changes, insist: Object.keys(changes) });
  return { id };
}

/** Own templates by name. */
export const ownTemplates = async (): Promise<{ id: number; title: string }[]> =>
  (await listTemplates(database())).map(({ id, title }) => ({ id, title }));

/** Saves the plan and the specimens of a study as a template of one's own; one of the same name is replaced. */
export const saveTemplate = (studyId: number, given: Record<string, unknown>): Promise<TemplateRow> =>
  transaction(async (client) => {
    const study = await getStudy(client, studyId);
    if (!study) throw new Refusal(`There is no study ${studyId}.`, 404);
    const title = typeof given.title === 'string' && given.title.trim() !== '' ? given.title.trim() : study.title;
    if (title.length > 120) throw new Refusal('The name of a template holds up to 120 characters.', 400, { field: 'title' });
    return insertTemplate(client, title, studyId);
  });

/** Opens a study from a template of one's own. */
export const studyFromOwn = (id: number, given: Record<string, unknown>): Promise<{ id: number }> =>
  transaction(async (client) => {
    const title = typeof given.title === 'string' ? given.title.trim() : '';
    if (title.length < 1 || title.length > 120) throw new Refusal('The title needs 1 to 120 characters.', 400, { field: 'title' });
    const study = await openTemplate(client, id, title);
    if (study === 'gone') throw new Refusal('That template no longer exists.', 404);
    if (study === 'taken') throw new Refusal(`There is already a study "${title}"; take another title.`, 409, { field: 'title' });
    return { id: study };
  });

/** Deletes a template of one's own, or puts it back; studies that were opened from it stay. */
export const deleteTemplate = (id: number, given: Record<string, unknown>): Promise<{ deleted: boolean }> =>
  transaction(async (client) => {
    const deleted = given.deleted !== false;
    if (!(await setTemplateDeleted(client, id, deleted, BIN_DAYS)))
      throw new Refusal(deleted ? 'That template no longer exists.' : 'It cannot be put back: another template has its name.', 409);
    return { deleted };
  });
