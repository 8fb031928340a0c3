import { describe, expect, it } from 'vitest';
import {
  asksMounts,
  type BatchChoices,
  type BatchFile,
  type BatchStudy,
  batchWords,
  freshTitle,
  inOrder,
  placeBatch,
  studyOf,
} from './batch';

const file = (name: string, began: number | null = null): BatchFile => ({ key: name, name, folder: null, began });
const choices = (change: Partial<BatchChoices> = {}): BatchChoices => ({ pattern: '', unnumbered: 'mounts', files: {}, ...change });
const short = (names: string[], study: BatchStudy | null = null, change: Partial<BatchChoices> = {}) =>
  placeBatch(
    names.map((n) => file(n)),
    study,
    choices(change),
  ).map((p) => `${p.specimen ?? '?'} ${p.mount ?? '-'}`);

const study: BatchStudy & { id: number } = {
  ...{ id: 7, title: 'Summer' },
  specimens: [
    { id: 1, name: 'Loam White' },
    { id: 2, name: 'Wick 60' },
  ],
  mounts: [
    { id: 11, specimen_id: 1, number: 1, made: 0, runs: 2 },
    { id: 12, specimen_id: 1, number: 3, made: 0, runs: 2 },
  ],
};

describe('where the files of a batch belong', () => {
  it('is what their names say', () => {
    expect(short(['amber_mount2_run1.csv', 'amber_mount2_run2.csv', 'birch_mount1.csv'])).toEqual(['Amber 2', 'Amber 2', 'Birch 1']);
    expect(short(['log-0231.csv', 'log-0232.csv'])).toEqual(['? -', '? -']);
  });
  it('counts files without a mount in their names as mounts or as runs, after those that have one', () => {
    const names = ['amber_mount1.csv', 'amber b.csv', 'amber_2.csv', 'amber_1.csv'];
    const places = placeBatch(
      names.map((n) => file(n)),
      null,
      choices(),
    );
    expect(places.map((p) => `${p.specimen} ${p.mount} ${p.isOpen}`)).toEqual([
      'Amber 1 false',
      'Amber b 1 true',
      'Amber 3 true',
      'Amber 2 true',
    ]);
    expect(asksMounts(places)).toBe(true);
    expect(short(names, null, { unnumbered: 'runs' })).toEqual(['Amber 1', 'Amber b 1', 'Amber 2', 'Amber 2']);
    // one file each leaves nothing to ask
    expect(asksMounts(placeBatch([file('amber.csv'), file('birch.csv')], null, choices()))).toBe(false);
  });
  it('follows the times of the logs before their names', () => {
    const files = [file('amber a1.csv', 3000), file('amber a1 .csv', 1000), file('amber a1  .csv', 2000)];
    expect(placeBatch(files, null, choices()).map((p) => p.mount)).toEqual([3, 1, 2]);
  });
  it('goes on after the mounts of the study, and says what is new to it', () => {
    const places = placeBatch([file('wick-60.csv'), file('loam white m3 r3.csv'), file('cedar_mount1.csv')], study, choices());
    expect(places).toMatchObject([
      { specimen: 'Wick 60', mount: 1 },
      { specimen: 'Loam White', mount: 3, because: 'the name says Loam White, mount 3' },
      { specimen: 'Cedar', mount: 1, because: 'by its name, which is new to this study' },
    ]);
    // what only its time places is marked as a guess, until a person confirms it by choosing
    const timed = { ...study, mounts: [{ id: 13, specimen_id: 2, number: 4, made: 1000, runs: 1 }] };
    const [guess] = placeBatch([file('log-0231.csv', 2000)], timed, choices());
    expect(guess).toMatchObject({
      specimen: 'Wick 60',
      mount: 4,
      isGuessed: true,
      because: 'this mount was made last before the log began',
    });
    expect(placeBatch([file('log-0231.csv', 2000)], timed, choices({ files: { 'log-0231.csv': { mount: 4 } } }))[0].isGuessed).toBe(false);
    expect(placeBatch([file('wick 60.csv', 2000)], timed, choices())[0].isGuessed).toBe(false);
    // nothing says which mount: the next number that is free
    expect(
      short(
        ['x1.csv'],
        { ...study, mounts: study.mounts.map((m) => ({ ...m, made: null })) },
        { files: { 'x1.csv': { specimen: 'Loam White' } } },
      ),
    ).toEqual(['Loam White 4']);
  });
  it('is what a person chooses, and keeps a mount that the name says', () => {
    const files = {
      'log-1.csv': { specimen: 'Cedar' },
      'log-2.csv': { specimen: 'Cedar', mount: 4 },
      'amber_m2.csv': { specimen: 'Birch' },
    };
    expect(short(['log-1.csv', 'log-2.csv', 'amber_m2.csv'], null, { files })).toEqual(['Cedar 5', 'Cedar 4', 'Birch 2']);
  });
  it('follows a pattern, and leaves what does not follow it', () => {
    expect(short(['7-Loam-2.csv', 'other.csv'], null, { pattern: '*-{specimen}-{mount}' })).toEqual(['Loam 2', '? -']);
  });
});

describe('a batch', () => {
  it('stands in the order of its specimens, mounts and times, a state as found first', () => {
    const names = ['after m1.csv', 'before m2.csv', 'before m1.csv', 'log 3.csv'];
    const files = names.map((n, i) => file(n, 1000 - i));
    const places = placeBatch(files, null, choices());
    expect(inOrder(files.map((f, i) => ({ file: f, place: places[i] }))).map((r) => r.file.name)).toEqual([
      'log 3.csv',
      'before m1.csv',
      'before m2.csv',
      'after m1.csv',
    ]);
  });
  it('finds the study that knows most of its names, the later one of two', () => {
    const other = { ...study, id: 8, specimens: [{ id: 3, name: 'Wick 60' }], mounts: [] };
    const twin = { ...study, id: 9 };
    expect(studyOf([file('wick 60.csv'), file('loam white.csv')], [study, other])).toBe(7);
    expect(studyOf([file('wick 60.csv'), file('loam white.csv')], [study, other, twin])).toBe(9);
    expect(studyOf([file('cedar.csv')], [study, other])).toBeNull();
    expect(studyOf([], [])).toBeNull();
  });
  it('is told in one line', () => {
    const words = (...names: string[]) =>
      batchWords(
        placeBatch(
          names.map((n) => file(n)),
          null,
          choices(),
        ),
      );
    expect(words('amber_m1.csv')).toBe('1 run on 1 mount of Amber');
    expect(words('amber_m1.csv', 'amber_m1_r2.csv', 'birch.csv')).toBe('3 runs on 2 mounts of Amber and Birch');
    expect(words('ab.csv', 'cd.csv', 'ef.csv', 'gh.csv')).toBe('4 runs on 4 mounts of 4 specimens');
    expect(words('log-1.csv')).toBe('1 run, not named yet');
    expect(batchWords([])).toBe('0 runs, not named yet');
  });
  it('takes a title that is free', () => {
    expect(freshTitle('Hut', [])).toBe('Hut');
    expect(freshTitle('Hut', ['Hut', 'Hut (2)'])).toBe('Hut (3)');
  });
});
