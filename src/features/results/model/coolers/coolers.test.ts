import { describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { runFact, studyFacts } from '../../../../../tests/studyFacts';
import type { RunFact, StudyFacts } from '../facts';
import { hasSeveralSpeeds, hasSweeps, sharedRange, speedsOf, sweepsOf, toldLevel } from '../sweeps';
import { answerCoolers } from './coolersAnswer';
import { crossedEffects } from './crossed';
import { crossingSentences, figureOf } from './figures';

const SOUND = { floor_db: 24, distance_m: 0.5, at_m: 1, target_db: 32, weighting: 'A' as const };
const study = (runs: RunFact[], more: Partial<StudyFacts> = {}) =>
  studyFacts(runs, { title: 'Coolers', reference: 'Heron', factors: ['cooler', null], sound: SOUND, ...more });

/** A mount's sweep; the meter stands at half the distance that is told, and hears the room too. */
function sweep(
  specimen: string,
  mount: number,
  rise: (rpm: number) => number,
  level: (rpm: number) => number,
  speeds = [700, 950, 1250, 1600],
): RunFact[] {
  return speeds.map((rpm, i) => {
    const source = level(rpm) + 20 * Math.log10(2);
    const noise = 10 * Math.log10(10 ** (source / 10) + 10 ** (SOUND.floor_db / 10));
    const where = { run: i + 1, mount_id: mount, day: `2026-09-1${mount}` };
    return { ...runFact(specimen, mount, rise(rpm), where), values: { rise: rise(rpm), fan_speed: rpm + (mount - 2) * 3, noise } };
  });
}
const heron = (rpm: number) => 28 + 13 * (rpm / 1200) ** -0.7;
const weir = (rpm: number) => 26 + 13 * (rpm / 1200) ** -0.7;
const heronLevel = (rpm: number) => 33 + 50 * Math.log10(rpm / 1200);
const weirLevel = (rpm: number) => 38 + 50 * Math.log10(rpm / 1200);
const two = () =>
  study(
    [-0.3, 0, 0.3].flatMap((d, m) => [
      ...sweep('Heron', m + 1, (r) => heron(r) + d, heronLevel),
      ...sweep('Weir 240', m + 1, (r) => weir(r) - d, weirLevel),
    ]),
  );

describe('sweeps of a study', () => {
  it('take the room out, turn the distance, and count speeds that wander as one step', () => {
    const [first] = sweepsOf(two());
    expect(new Set(first.points.map((p) => p.rpm)).size).toBe(4);
    expect(first.level?.b).toBeCloseTo(50, 1);
    expect((first.level?.a ?? 0) + (first.level?.b ?? 0) * Math.log10(1200)).toBeCloseTo(33, 1);
    expect(hasSweeps([first])).toBe(true);
    expect(toldLevel(26, SOUND).at_most).toBe(true);
  });
  it('name the speeds that were run, each once', () => {
    expect(speedsOf(two())).toEqual([700, 950, 1250, 1600]);
    expect(speedsOf(study([]))).toEqual([]);
  });
  it('under several loads are those under the first, never mixed with another', () => {
    const facts = two();
    const other = facts.runs.map((r) => ({ ...r, run: r.run + 10, load: 'Beacon', values: { ...r.values, rise: 9 } }));
    const both = { ...facts, loads: ['Correlate', 'Beacon'], runs: [...facts.runs.map((r) => ({ ...r, load: 'Correlate' })), ...other] };
    expect(sweepsOf(both)).toEqual(sweepsOf(facts));
  });
  it('leave out what a person left out', () => {
    const facts = two();
    expect(hasSeveralSpeeds(facts.runs)).toBe(true);
    expect(hasSeveralSpeeds(sweep('Heron', 1, heron, heronLevel, [1190, 1210]))).toBe(false);
    facts.runs = facts.runs.map((r) => (r.mount === 1 ? { ...r, mount_reason: 'tilted' } : r));
    expect(sweepsOf(facts)[0].mounts).toEqual(['2', '3']);
  });
});

describe('coolers held alike', () => {
  it('turn their order from equal speed to equal noise', () => {
    const facts = two();
    const sweeps = sweepsOf(facts);
    const atSpeed = answerCoolers(facts, sweeps, { by: 'speed', at: 1200 });
    expect(atSpeed.headline.claim).toMatch(/^Weir 240 runs 2\.0 K cooler than Heron/);
    const quiet = answerCoolers(facts, sweeps, { by: 'noise', at: 32 });
    expect(quiet.figures.map((f) => Math.round(f.rpm ?? 0))).toEqual([1146, 910]);
    expect(quiet.headline.claim).toMatch(/^Heron and Weir 240|^Weir 240 and Heron/);
    const held = answerCoolers(facts, sweeps, { by: 'rise', at: 41 });
    expect(held.outcome).toBe('noise');
    expect(held.figures.map((f) => Number(f.level?.toFixed(1)))).toEqual([33, 33.6]);
    expect(held.headline.claim).toMatch(/dB\(A\)/);
    const full = answerCoolers(facts, sweeps, { by: 'full', at: 0 });
    expect(full.figures.every((f) => Math.abs((f.rpm ?? 0) - 1600) < 5)).toBe(true);
  });
  it('say why one has no place, and are read within what two were measured at', () => {
    const facts = two();
    const sweeps = sweepsOf(facts);
    const range = sharedRange(sweeps, 'noise') as [number, number];
    expect(range[0]).toBeGreaterThan(25);
    expect(figureOf(sweeps[0], { by: 'noise', at: 44 }, facts).told).toMatch(
      /^Heron does not reach 44\.0 dB\(A\) within its measured speeds, which give 2[0-9]\.\d to 39\.\d/,
    );
    expect(figureOf(sweeps[0], { by: 'speed', at: 3000 }, facts).told).toContain('from 700 to 1600 rpm');
    expect(figureOf(sweeps[0], { by: 'rise', at: 20 }, facts).told).toContain('was not measured at 20.0 K');
    const alone = answerCoolers(facts, sweeps, { by: 'noise', at: 80 });
    expect(alone.analysis).toBeNull();
    expect(alone.rungs).toEqual([]);
  });
  it('tell where one overtakes the other, or that it cannot be told', () => {
    const exact = study([...sweep('Heron', 1, heron, heronLevel), ...sweep('Weir 240', 1, weir, weirLevel)]);
    expect(crossingSentences(sweepsOf(exact), { sound: SOUND, confidence: 0.95 })[0]).toMatch(
      /^Below 3\d\.\d dB\(A\) Heron is the cooler of the two, above it Weir 240\. One of them has only one mount/,
    );
    expect(crossingSentences(sweepsOf(two()), { sound: SOUND, confidence: 0.95 })[0]).toMatch(/too close to say|Below/);
  });
  it('one speed only is no sweep, and nothing is drawn through it', () => {
    const facts = study([...sweep('Heron', 1, heron, heronLevel, [1200]), ...sweep('Plover', 1, weir, weirLevel, [1200])]);
    const sweeps = sweepsOf(facts);
    expect(hasSweeps(sweeps)).toBe(false);
    expect(sharedRange(sweeps, 'noise')).toBeNull();
    expect(sweeps.map((s) => s.missing)).toEqual([
      'Heron was run at one fan speed only; a curve takes three, better five.',
      'Plover was run at one fan speed only; a curve takes three, better five.',
    ]);
  });
});

describe('a heatsink and a fan', () => {
  const combos = ['Heron', 'Plover'].flatMap((a) => ['Gale', 'Hush'].map((b) => ({ a, b, name: `${a} with ${b}` })));
  const crossed = (values: (c: (typeof combos)[number]) => number[]) => {
    const facts = study([], { design: 'two_by_two', factors: ['cooler', 'fan'] });
    facts.specimens = combos.map((c, i) => ({
      ...{
        id: i,
        name: c.name,
        position: i,
        kind: 'cooler',
        fixed: false,
        levels: [c.a, c.b] as [string, string],
        cost: null,
        minutes: null,
      },
      ...{ tries: 0, failed: 0, mounts_planned: 4 },
    }));
    return crossedEffects(facts, new Map(combos.map((c) => [c.name, values(c)])), {}, 'rise', 1.5);
  };
  it('are told apart in plain words', () => {
    const random = seededRandom(5);
    const told = crossed((c) =>
      Array.from({ length: 5 }, () => (c.a === 'Heron' ? 41 : 42.7) + (c.b === 'Gale' ? 0 : 0.8) + 0.1 * random.normal()),
    );
    expect(told?.effects.map((e) => e.sentence)).toEqual([
      expect.stringMatching(
        /^The heatsink accounts for 1\.[678] K \(95 % 1\.\d to 1\.\d\): Heron runs that much cooler than Plover, taken over the fans\.$/,
      ),
      expect.stringMatching(/^The fan accounts for 0\.[789] K .*: Gale runs that much cooler than Hush, taken over the heatsinks\.$/),
      expect.stringMatching(/^What the heatsink gains does not depend on the fan, within 1\.5 K/),
    ]);
  });
  it('that depend on each other, or are not settled, are told so', () => {
    const random = seededRandom(6);
    const noisy = (sd: number, more: (c: (typeof combos)[number]) => number) =>
      crossed((c) => Array.from({ length: 4 }, () => 41 + more(c) + sd * random.normal()));
    expect(noisy(0.1, (c) => (c.a === 'Plover' && c.b === 'Hush' ? 4 : 0))?.effects[2].sentence).toMatch(
      /^What the heatsink gains depends on the fan: from Gale to Hush/,
    );
    const open = noisy(4, () => 0)?.effects.map((e) => e.sentence) ?? [];
    expect(open[0]).toMatch(/are not distinguishable/);
    expect(open[2]).toMatch(/is not settled/);
  });
  it('need every combination', () => {
    const told = crossed((c) => (c.name === 'Plover with Hush' ? [] : [40, 41]));
    expect(told?.effects).toEqual([]);
    expect(told?.missing).toBe('Not measured yet: Plover with Hush. The shares of heatsink and fan are given once every combination is.');
  });
});
