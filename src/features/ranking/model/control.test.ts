import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { type ControlPoint, isNews, type RigEvent, setupControl } from './control';

const DAY_S = 86_400;
const setup = { key: 'k', name: 'Sled' };
const random = seededRandom(11);
const points = (levels: number[]): ControlPoint[] =>
  levels.map((level, i) => ({ at_s: 1_700_000_000 + 10 * i * DAY_S, value: level + 0.5 * random.normal(), mount_id: i, study: 'S' }));
const control = (all: ControlPoint[], events: RigEvent[] = []) => setupControl({ setup, points: all, events });
const event = (at_s: number, words: string) => ({ at_s, words, kind: 'edit' as const });

describe('the lab over time', () => {
  it('is quiet where the reference stays in its band', () => {
    const told = control(points(Array(14).fill(40)));
    expect(told).toMatchObject({ standing: 'steady', left: false, steps: [] });
    expect(told?.sentence).toBe('14 mounts of the reference stay within their band: the bench reads as it did.');
    expect(control(points([40]))).toBeNull();
    expect(control(points([40, 40, 40]))?.sentence).toContain('Limits from 3 mounts are rough');
  });

  it('finds a step with its date, and what changed on the shelf then, not what changed long before', () => {
    const all = points([...Array(10).fill(40), ...Array(10).fill(46)]);
    const told = control(all, [event(all[2].at_s, 'Fin: screws changed'), event(all[10].at_s - DAY_S, 'Scanner: offset to 0.4 changed')]);
    expect(told?.steps).toHaveLength(1);
    expect(told?.steps[0].at_s).toBe(all[10].at_s);
    expect(told?.steps[0].beside.map((e) => e.words)).toEqual(['Scanner: offset to 0.4 changed']);
    expect(told?.sentence).toMatch(/^The level stepped by \+[56]\.\d mm²·K\/W on 2024-02-/);
    // the band is that of the level it has now
    expect(told?.chart.centre).toBeGreaterThan(45);
    expect(told?.standing).toBe('settled');
    expect(told?.sentence).toContain('Since then 10 mounts of the reference stay within their band: steady at that level.');
  });

  it('calls a level steady from eight mounts on', () => {
    const ofLevel = (mounts: number) => control(points([...Array(10).fill(40), ...Array(mounts).fill(60)]));
    expect(ofLevel(8)?.standing).toBe('settled');
    expect(ofLevel(7)).toMatchObject({ standing: 'moved', left: false });
    expect(ofLevel(7)?.sentence).toContain('Since then 7 mounts: too few to call that level steady.');
  });

  it('says which mounts lay outside the band though the newest does not', () => {
    const all = points(Array(20).fill(40)).map((p, i) => (i === 8 ? { ...p, value: 47 } : p));
    const told = control(all);
    expect(told).toMatchObject({ standing: 'steady', steps: [] });
    expect(told?.sentence).toBe(
      '19 of 20 mounts of the reference stay within their band, not that of 2024-02-02: the bench reads as it did.',
    );
  });

  it('tells a mount outside its band by chance at most once in a hundred, however few there are', () => {
    for (const before of [2, 3, 5, 10]) {
      let told = 0;
      for (let i = 0; i < 400; i++) if (control(points(Array(before + 1).fill(40)))?.sentence.includes('left its band')) told++;
      expect(told, String(before)).toBeLessThanOrEqual(11);
    }
  });

  it('finds a newest mount outside the band of those before it, and takes one inside', () => {
    const even = [40, 41, 40, 41, 40, 41, 40, 41].map((value, i) => ({ at_s: 1_700_000_000 + i * DAY_S, value, mount_id: i, study: 'S' }));
    const next = (value: number) => control([...even, { at_s: 1_800_000_000, value, mount_id: 99, study: 'S' }]);
    // centre 40.5, mean moving range 1: the band ends at 43.16
    expect(next(43.1)?.standing).toBe('steady');
    expect(next(43.2)).toMatchObject({ left: true, standing: 'moved' });
    expect(next(43.2)?.sentence).toContain('The newest mount, 43.2, left its band of 37.8 to 43.2');
  });

  it('is news of the bench for thirty days: a mount that left its band, and a step', () => {
    const found = (all: ControlPoint[], days: number) => {
      const told = control(all);
      return told && isNews(told, (all.at(-1)?.at_s ?? 0) + days * DAY_S);
    };
    const quiet = points(Array(14).fill(40));
    const left = [...quiet, { at_s: quiet[13].at_s + DAY_S, value: 48, mount_id: 99, study: 'S' }];
    expect([found(quiet, 0), found(left, 30), found(left, 30.1)]).toEqual([false, true, false]);
    // ten days from mount to mount: the step lies thirty days before the newest, or ninety; those after it stay in its band
    const stepped = (after: number) => points([...Array(12).fill(40), ...Array(after).fill(60)]);
    const news = stepped(4);
    expect([found(news, 0), found(news, 0.1), found(stepped(10), 0)]).toEqual([true, false, false]);
  });
});
