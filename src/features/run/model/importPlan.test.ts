import { describe, expect, it } from 'vitest';
import { NewStudy } from '#features/study/model/newStudy';
import { check, RuleError } from '#rules/validation';
import { ImportPlan } from './importPlan';

const id = '3f2c1a90-1111-4222-8333-444455556666';
const place = { study_title: 'First light', specimen_name: 'Loam White', specimen_kind: 'paste', rig_name: 'North bench' };
const sentences = (plain: unknown) => {
  try {
    check(ImportPlan, plain);
    return [];
  } catch (error) {
    return (error as RuleError).sentences;
  }
};

describe('an import plan', () => {
  it('is taken with new names, or with ids in their place', () => {
    expect(sentences({ import_id: id, reading: {}, place })).toEqual([]);
    expect(sentences({ import_id: id, reading: {}, place: { study_id: 1, specimen_id: 2, mount_id: 3, rig_id: 4 } })).toEqual([]);
  });
  it('says each field that is missing', () => {
    const told = sentences({ import_id: id, reading: {}, place: {} }).join(' ');
    for (const s of ['The study needs a title', 'The specimen needs a name', 'Choose what kind of specimen it is.', 'The rig needs a name'])
      expect(told).toContain(s);
  });
  it.each([
    [{ import_id: 'no id', reading: {}, place }, 'import_id must be a UUID'],
    [{ import_id: id, reading: { roles: { 'Die 1': 'heater' } }, place }, 'roles: each value should be one of sensor, ambient'],
    [{ import_id: id, reading: { units: { Die: 'furlong' } }, place }, 'units: each value should be one of degC'],
    [{ import_id: id, reading: { delimiter: '#' }, place }, 'delimiter must be one of'],
    [{ import_id: id, reading: {}, place: { ...place, rig_limit_c: 5 } }, 'a number between 30 and 300 °C'],
    [{ import_id: id, reading: {}, place: { ...place, study_title: 'x'.repeat(121) } }, 'The study needs a title of 1 to 120 characters.'],
    [{ import_id: id, reading: {}, place, room_c: 400 }, 'The room is a number between −60 and 80 °C.'],
    [{ import_id: id, reading: {}, place, offsets: { 'a.csv': 'soon' } }, 'each value should be a number of seconds'],
  ])('%# is refused with its sentence', (plain, sentence) => {
    expect(sentences(plain).join(' ')).toContain(sentence);
  });
  it.each([null, undefined, 'text', 5, []])('%j is no plan', (plain) => {
    expect(() => check(ImportPlan, plain)).toThrow(RuleError);
  });
  it('drops what no rule names', () => {
    expect(check(ImportPlan, { import_id: id, reading: {}, place, is_admin: true })).not.toHaveProperty('is_admin');
  });
});

describe('a new study', () => {
  it('needs a title and a margin that means something', () => {
    expect(check(NewStudy, { title: 'Two pastes', margin_k: 1 })).toMatchObject({ title: 'Two pastes' });
    expect(() => check(NewStudy, { title: '', margin_k: 1 })).toThrow('The title needs 1 to 120 characters.');
    expect(() => check(NewStudy, { title: 'x', margin_k: 0 })).toThrow('finer than any sensor');
    expect(() => check(NewStudy, { title: 'x', margin_k: '1' })).toThrow('The margin is a number between 0.01 and 50 K');
  });
});
