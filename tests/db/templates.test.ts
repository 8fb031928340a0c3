import { describe, expect, it } from 'vitest';
import { database } from '#app/database/pool';
import { createSheet } from '#features/shelf/server/sheets';
import { resolvePlan } from '#features/study/model/resolve';
import { TEMPLATE_KEYS, TEMPLATES } from '#features/study/model/templates';
import { deleteTemplate, ownTemplates, saveTemplate, studyFromOwn, studyFromTemplate } from '#features/study/server/fromTemplate';
import { planView } from '#features/study/server/planView';
import { getStudy, listSpecimens } from '#features/study/store/studies';
import { onFreshDatabase } from '../database.ts';

onFreshDatabase();
const asked = (more: object = {}) => ({
  template: 'material',
  title: 'Summer',
  names: [{ name: 'Amber' }, { name: 'Birch' }],
  margin: 0.8,
  ...more,
});

describe('a study from a question', () => {
  it.each(TEMPLATE_KEYS)('%s opens with its specimens, and a plan that can be resolved', async (template) => {
    const clocks = template === 'clock' ? { from: 2000, to: 2200, step: 50 } : undefined;
    const { id } = await studyFromTemplate(asked({ template, title: `From ${template}`, clocks, days: 6 }));
    const view = await planView(id);
    const plan = resolvePlan(view.plan, view.context);
    expect(view.context.specimens.map((s) => [s.name, s.kind])).toEqual([
      ['Amber', TEMPLATES[template].kind],
      ['Birch', TEMPLATES[template].kind],
    ]);
    expect(plan.specimens).toHaveLength(2);
    expect(view.plan.reference_id).toBe(view.context.specimens[0].id);
    expect((await getStudy(database(), id))?.margin_k).toBe(template === 'clock' ? 1 : 0.8);
  });
  it('takes from the shelf what it knows', async () => {
    await createSheet('materials', { name: 'Slip Felt', sheet: { kind: 'pad' } });
    await createSheet('coolers', { name: 'Heron', sheet: {} });
    const { id } = await studyFromTemplate(
      asked({ title: 'Shelf', names: [{ name: 'slip felt' }, { name: 'Heron' }, { name: 'Own mix' }] }),
    );
    const { context } = await planView(id);
    expect(context.specimens.map((s) => [s.name, s.kind, s.material?.name ?? s.cooler?.name ?? null])).toEqual([
      ['slip felt', 'pad', 'Slip Felt'],
      ['Heron', 'cooler', 'Heron'],
      ['Own mix', 'paste', null],
    ]);
  });
  it('is refused where its title is taken or two names are the same, and leaves nothing', async () => {
    await studyFromTemplate(asked({ title: 'Once' }));
    await expect(studyFromTemplate(asked({ title: 'Once' }))).rejects.toThrow('There is already a study "Once"');
    await expect(studyFromTemplate(asked({ title: 'Twice', names: [{ name: 'A' }, { name: ' A ' }] }))).rejects.toThrow('the same');
    await expect(
      studyFromTemplate(asked({ template: 'clock', title: 'Clock', clocks: { from: 3000, to: 2000, step: 50 } })),
    ).rejects.toThrow('The highest clock is below the lowest.');
    // 50 K is the most that a plan takes
    await expect(studyFromTemplate(asked({ title: 'Wide', margin: 50.1 }))).rejects.toThrow(/50/);
    expect((await studyFromTemplate(asked({ title: 'As wide as can be', margin: 50 }))).id).toBeGreaterThan(0);
    expect((await database().query(`select from studies where title in ('Twice', 'Clock', 'Wide')`)).rowCount).toBe(0);
  });
});

describe('a template of one’s own', () => {
  it('keeps plan, specimens and reference of a study, and opens others like it', async () => {
    const { id } = await studyFromTemplate(asked({ title: 'Pattern', template: 'change' }));
    const [, birch] = await listSpecimens(database(), id);
    await database().query('update studies set reference_id = $1 where id = $2', [birch.id, id]);
    const saved = await saveTemplate(id, {});
    expect(await ownTemplates()).toEqual([{ id: saved.id, title: 'Pattern' }]);
    // saved once more under its name, it is replaced
    expect((await saveTemplate(id, { title: 'Pattern' })).id).toBe(saved.id);
    const made = await studyFromOwn(saved.id, { title: 'Pattern again' });
    const view = await planView(made.id);
    expect(view.plan).toMatchObject({ varies: 'surface', family: 'reference', margin_k: 0.8 });
    expect(view.context.specimens.map((s) => s.name)).toEqual(['Amber', 'Birch']);
    expect(view.plan.reference_id).toBe(view.context.specimens[1].id);
    await expect(studyFromOwn(saved.id, { title: 'Pattern again' })).rejects.toThrow('already a study');
    await expect(studyFromOwn(saved.id, { title: ' ' })).rejects.toThrow('The title needs');
    await expect(studyFromOwn(424242, { title: 'X' })).rejects.toThrow('no longer exists');
    await expect(saveTemplate(424242, {})).rejects.toThrow('There is no study');
    await deleteTemplate(saved.id, {});
    expect(await ownTemplates()).toEqual([]);
    await expect(studyFromOwn(saved.id, { title: 'X' })).rejects.toThrow('no longer exists');
    await deleteTemplate(saved.id, { deleted: false });
    expect(await ownTemplates()).toHaveLength(1);
    // one that was deleted gives way to a newer one of its name
    await deleteTemplate(saved.id, {});
    await saveTemplate(id, {});
    await expect(deleteTemplate(saved.id, { deleted: false })).rejects.toThrow('another template has its name');
  });
});
