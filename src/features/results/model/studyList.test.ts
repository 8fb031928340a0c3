import { describe, expect, it } from 'vitest';
import { type ListedStudy, listQuery, listStudiesBy, stateOf } from './studyList';

const study = (title: string, more: Partial<ListedStudy> = {}): ListedStudy => ({
  ...{ title, question: '', varies: null, specimens: [], mounts: 0, runs: 0, isTold: false, isPublished: false },
  opened: new Date('2026-06-02T12:00:00Z'),
  ...more,
});
const all = [
  study('Pastes', { specimens: ['Loam White', 'Wick 60'], runs: 20, isTold: true, opened: new Date('2025-03-01T12:00:00Z') }),
  study('Towers', { varies: 'cooler', runs: 4, question: 'Which is quieter?' }),
  study('Old card', { varies: 'state', runs: 30, isTold: true, isPublished: true, opened: new Date('2026-01-05T12:00:00Z') }),
  study('Later'),
];
const listed = (address: string) =>
  listStudiesBy(all, listQuery(new URLSearchParams(address))).map((g) => [g.heading, ...g.studies.map((s) => s.title)]);

describe('the list of studies', () => {
  it('is all of it, the newest first, where nothing or nonsense is asked', () => {
    expect(listed('')).toEqual([['', 'Towers', 'Later', 'Old card', 'Pastes']]);
    expect(listed('state=lost&sort=__proto__&group=toString')).toEqual(listed(''));
  });

  it('is filtered by words, state and what is compared', () => {
    expect(listed('text=wick')).toEqual([['', 'Pastes']]);
    expect(listed('text=which QUIETER')).toEqual([['', 'Towers']]);
    expect(listed('text=nobody')).toEqual([]);
    expect(all.map(stateOf)).toEqual(['told', 'measuring', 'published', 'planned']);
    expect(listed('state=planned')).toEqual([['', 'Later']]);
    expect(listed('compares=material&sort=title')).toEqual([['', 'Later', 'Pastes']]);
  });

  it('is sorted and grouped', () => {
    expect(listed('sort=runs')).toEqual([['', 'Old card', 'Pastes', 'Towers', 'Later']]);
    expect(listed('group=year&sort=oldest')).toEqual([
      ['2025', 'Pastes'],
      ['2026', 'Old card', 'Towers', 'Later'],
    ]);
    expect(listed('group=compares&sort=title').map(([h]) => h)).toEqual(['Material', 'State of one device', 'Cooler']);
  });
});
