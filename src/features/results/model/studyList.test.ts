import { describe, expect, it } from 'vitest';
import { type ListedStudy, listQuery, pageAddress, pageOfStudies, stateOf } from './studyList';

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
const listed = (address: string) => {
  const groups = new Map<string, string[]>();
  for (const { heading, study } of pageOfStudies(all, listQuery(new URLSearchParams(address))).studies)
    groups.set(heading, [...(groups.get(heading) ?? []), study.title]);
  return [...groups].map(([heading, titles]) => [heading, ...titles]);
};

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

  it('is parted into pages of 20; a page behind the last is the last', () => {
    const many = Array.from({ length: 51 }, (_, i) => study(`S${String(i).padStart(2, '0')}`));
    const page = (address: string) => pageOfStudies(many, listQuery(new URLSearchParams(address)));
    const first = page('sort=title');
    expect([first.studies.length, first.page, first.pages, first.total]).toEqual([20, 1, 3, 51]);
    expect(page('sort=title&page=2').studies[0].study.title).toBe('S20');
    expect(page('sort=title&page=99').studies.map((s) => s.study.title)).toEqual([
      'S40',
      'S41',
      'S42',
      'S43',
      'S44',
      'S45',
      'S46',
      'S47',
      'S48',
      'S49',
      'S50',
    ]);
    expect(page('page=0').page).toBe(1);
    expect(page('page=1e9').page).toBe(1);
    expect(pageOfStudies([], listQuery(new URLSearchParams())).pages).toBe(1);
    expect(pageAddress(new URLSearchParams('text=a&page=2'), 3)).toBe('/studies?text=a&page=3');
  });
});
