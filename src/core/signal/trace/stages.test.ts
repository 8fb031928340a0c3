import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { twoLevels } from './levels';
import { findStages } from './stages';
import type { Drive } from './types';

interface Level {
  value: number;
  lasts: number;
}

/** A drive of levels that follow each other, with noise of a given share. */
function driveOf(levels: Level[], noise = 0.003, kind: Drive['kind'] = 'power', period = 1): Drive {
  const random = seededRandom(levels.length);
  const values = levels.flatMap((l) => Array.from({ length: Math.round(l.lasts / period) }, () => l.value * (1 + noise * random.normal())));
  return { kind, period_s: period, t: Float64Array.from(values, (_, i) => i * period), values: Float64Array.from(values) };
}
const never = (_at: number) => false;
const named = (drive: Drive, caused = never) => findStages(drive, caused)?.map((s) => s.stage);

describe('stages of a load', () => {
  it('idle, load, cool-down', () => {
    const stages = findStages(
      driveOf([
        { value: 12, lasts: 300 },
        { value: 140, lasts: 900 },
        { value: 12, lasts: 200 },
      ]),
      never,
    );
    expect(stages).toEqual([
      { stage: 'idle', start_s: 0, end_s: 300 },
      { stage: 'sustained', start_s: 300, end_s: 1200 },
      { stage: 'cooldown', start_s: 1200, end_s: 1399 },
    ]);
  });
  it('a log that begins or ends under load has no idle or no cool-down', () => {
    expect(
      named(
        driveOf([
          { value: 140, lasts: 600 },
          { value: 12, lasts: 200 },
        ]),
      ),
    ).toEqual(['sustained', 'cooldown']);
    expect(
      named(
        driveOf([
          { value: 12, lasts: 200 },
          { value: 140, lasts: 600 },
        ]),
      ),
    ).toEqual(['idle', 'sustained']);
  });
  it('a boost is split off where its level differs by over 5 % for over 20 s', () => {
    const boost = (value: number, lasts: number) =>
      named(
        driveOf([
          { value: 12, lasts: 200 },
          { value, lasts },
          { value: 130, lasts: 900 },
          { value: 12, lasts: 200 },
        ]),
      );
    expect(boost(185, 64)).toEqual(['idle', 'boost', 'sustained', 'cooldown']);
    expect(boost(134, 64)).toEqual(['idle', 'sustained', 'cooldown']);
    expect(boost(185, 6)).toEqual(['idle', 'sustained', 'cooldown']);
  });
  it('finds the edge of a boost to a sample or two', () => {
    const stages = findStages(
      driveOf(
        [
          { value: 12, lasts: 200 },
          { value: 185, lasts: 64 },
          { value: 130, lasts: 900 },
          { value: 12, lasts: 100 },
        ],
        0.01,
      ),
      never,
    );
    expect(Math.abs((stages?.[1].end_s ?? 0) - 264)).toBeLessThanOrEqual(2);
  });
  it('two boosts of their own level each', () => {
    expect(
      named(
        driveOf([
          { value: 12, lasts: 100 },
          { value: 220, lasts: 60 },
          { value: 180, lasts: 90 },
          { value: 140, lasts: 600 },
          { value: 12, lasts: 60 },
        ]),
      ),
    ).toEqual(['idle', 'boost', 'boost', 'sustained', 'cooldown']);
  });
  it('a long boost far above the lasting level does not make the lasting level idle', () => {
    expect(
      named(
        driveOf([
          { value: 12, lasts: 60 },
          { value: 210, lasts: 300 },
          { value: 118, lasts: 1400 },
          { value: 12, lasts: 60 },
        ]),
      ),
    ).toEqual(['idle', 'boost', 'sustained', 'cooldown']);
  });
  it('two idle levels do not make the higher one load', () => {
    const stages = findStages(
      driveOf([
        { value: 8, lasts: 600 },
        { value: 25, lasts: 300 },
        { value: 140, lasts: 300 },
        { value: 8, lasts: 300 },
      ]),
      never,
    );
    expect(stages?.[0]).toMatchObject({ stage: 'idle', end_s: 900 });
  });
  it('a dip of under 20 s does not end the load, a pause does', () => {
    const dip = (lasts: number) =>
      findStages(
        driveOf([
          { value: 12, lasts: 100 },
          { value: 140, lasts: 300 },
          { value: 12, lasts },
          { value: 140, lasts: 500 },
          { value: 12, lasts: 100 },
        ]),
        never,
      );
    expect(dip(10)?.[0].end_s).toBe(100);
    expect(dip(60)?.[0].end_s).toBe(460);
  });
  it('a drop that throttling caused does not split', () => {
    const drive = driveOf([
      { value: 12, lasts: 100 },
      { value: 140, lasts: 200 },
      { value: 110, lasts: 600 },
      { value: 12, lasts: 100 },
    ]);
    expect(named(drive)).toEqual(['idle', 'boost', 'sustained', 'cooldown']);
    expect(named(drive, (at) => Math.abs(at - 300) < 5)).toEqual(['idle', 'sustained', 'cooldown']);
  });
  it('no load where the drive hardly moves', () => {
    expect(findStages(driveOf([{ value: 140, lasts: 600 }]), never)).toBeNull();
    expect(
      findStages(
        driveOf([
          { value: 100, lasts: 300 },
          { value: 115, lasts: 300 },
        ]),
        never,
      ),
    ).toBeNull();
  });
  it('holds for any sensible levels, lengths and sampling', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 30 }),
        fc.integer({ min: 80, max: 400 }),
        fc.integer({ min: 60, max: 600 }),
        fc.integer({ min: 150, max: 1500 }),
        fc.constantFrom(0.5, 1, 2, 2.5),
        (idle, load, before, lasts, period) => {
          const stages = findStages(
            driveOf(
              [
                { value: idle, lasts: before },
                { value: load, lasts },
                { value: idle, lasts: 60 },
              ],
              0.005,
              'power',
              period,
            ),
            never,
          );
          expect(stages?.map((s) => s.stage)).toEqual(['idle', 'sustained', 'cooldown']);
          expect(Math.abs((stages?.[1].start_s ?? 0) - before)).toBeLessThanOrEqual(2 * period);
          expect(Math.abs((stages?.[1].end_s ?? 0) - before - lasts)).toBeLessThanOrEqual(2 * period);
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('two-class threshold', () => {
  it('lies between the classes, whatever their shares', () => {
    fc.assert(
      fc.property(fc.integer({ min: 5, max: 300 }), fc.integer({ min: 5, max: 300 }), (low, high) => {
        const values = Float64Array.from([...Array(low).fill(10), ...Array(high).fill(140)]);
        const threshold = twoLevels({ values, period_s: 4 })?.threshold;
        expect(threshold).toBeGreaterThan(10);
        expect(threshold).toBeLessThan(140);
      }),
    );
  });
});
