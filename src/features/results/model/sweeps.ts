import { fitSweep, levelRange, type Sweep, type SweepPoint } from '#core/thermal/coolers/sweep';
import { atDistance, sourceLevel } from '#core/thermal/noise/levels';
import type { RunFact, SoundSetup, StudyFacts } from './facts';

/** Speeds this close are one step of a sweep, as a share. */
const SAME_SPEED = 0.02;

/** Unit of sound levels as they are told. */
export const soundUnit = ({ weighting }: SoundSetup): string => (weighting === 'Z' ? 'dB' : `dB(${weighting})`);

/** A reading as it is told: the room taken out, at the distance asked for. */
export function toldLevel(reading: number, sound: SoundSetup): { level: number; at_most: boolean } {
  const { level, bound } = sourceLevel(reading, sound.floor_db);
  const turned = sound.distance_m !== null && sound.at_m !== null ? atDistance(level, sound.distance_m, sound.at_m) : level;
  return { level: turned, at_most: bound === 'at_most' };
}

/** Runs under the first load of a study that has several: sweeps under different loads are different curves. */
export const underFirstLoad = ({ runs, loads }: Pick<StudyFacts, 'runs' | 'loads'>): RunFact[] =>
  loads.length > 1 ? runs.filter((r) => r.load === null || r.load === loads[0]) : runs;

/** Every specimen of a study over its fan speeds: the runs of its mounts that name their speed, each counting as one reading. */
export function sweepsOf(facts: Pick<StudyFacts, 'runs' | 'specimens' | 'sound' | 'loads'>): Sweep[] {
  const counted = underFirstLoad(facts).filter((r) => r.mount_reason === null && r.run_reason === null && (r.values.fan_speed ?? 0) > 0);
  const steps = speedSteps(counted.map((r) => r.values.fan_speed as number));
  return facts.specimens.map((s) =>
    fitSweep(
      s.name,
      counted.filter((r) => r.specimen === s.name).map((r) => pointOf(r, facts.sound, steps)),
    ),
  );
}

function pointOf(run: RunFact, sound: SoundSetup, steps: (rpm: number) => number): SweepPoint {
  const reading = run.values.noise;
  const told = reading === undefined ? null : toldLevel(reading, sound);
  return {
    mount: String(run.mount),
    rpm: steps(run.values.fan_speed as number),
    rise: run.valid ? (run.values.rise ?? null) : null,
    level: told?.level ?? null,
    level_at_most: told?.at_most ?? false,
  };
}

/** The speeds that a study's runs were made at, each step once, rising; to ten rpm. */
export function speedsOf({ runs }: Pick<StudyFacts, 'runs'>): number[] {
  const speeds = runs.flatMap((r) => ((r.values.fan_speed ?? 0) > 0 ? [r.values.fan_speed as number] : []));
  if (speeds.length === 0) return [];
  const steps = speedSteps(speeds);
  return [...new Set(speeds.map((s) => Math.round(steps(s) / 10) * 10))].sort((a, b) => a - b);
}

/** Speeds of a sweep wander by a few turns; those within 2 % of each other count as their common step. */
function speedSteps(speeds: number[]): (rpm: number) => number {
  const sorted = [...speeds].sort((a, b) => a - b);
  const steps: number[][] = [];
  for (const rpm of sorted) {
    const last = steps.at(-1);
    if (last && rpm <= last[0] * (1 + SAME_SPEED)) last.push(rpm);
    else steps.push([rpm]);
  }
  const means = steps.map((s) => s.reduce((a, b) => a + b, 0) / s.length);
  return (rpm) => means.reduce((best, m) => (Math.abs(m - rpm) < Math.abs(best - rpm) ? m : best), means[0]);
}

/** Has a study sweeps at all: a specimen that was run at three speeds or more? */
export const hasSweeps = (sweeps: Sweep[]): boolean => sweeps.some((s) => new Set(s.points.map((p) => p.rpm)).size > 2);

/** Speeds of one mount further apart than this, as a share, are a sweep and no wander. */
const APART = 0.1;

/** Did the mounts of a study run at several fan speeds, so that the mean of their runs is no steady figure? */
export function hasSeveralSpeeds(runs: RunFact[]): boolean {
  const range = new Map<number, [number, number]>();
  for (const r of runs) {
    const rpm = r.values.fan_speed ?? 0;
    if (rpm <= 0 || r.mount_reason !== null || r.run_reason !== null) continue;
    const [low, high] = range.get(r.mount_id) ?? [rpm, rpm];
    range.set(r.mount_id, [Math.min(low, rpm), Math.max(high, rpm)]);
  }
  return [...range.values()].some(([low, high]) => high > low * (1 + APART));
}

/** Range in which at least two coolers can be compared, by level, speed or rise; null where there is none. */
export function sharedRange(sweeps: Sweep[], by: 'noise' | 'speed' | 'rise'): [number, number] | null {
  const ranges = sweeps.flatMap((s): [number, number][] => {
    if (by === 'noise') return levelRange(s) ? [levelRange(s) as [number, number]] : [];
    if (!s.rise) return [];
    if (by === 'speed') return [s.rise.rpm];
    const rises = s.points.flatMap((p) => p.rise ?? []);
    return [[Math.min(...rises), Math.max(...rises)]];
  });
  if (ranges.length < 2) return ranges[0] ?? null;
  // the second lowest start and the second highest end: between them at least two take part
  const low = ranges.map((r) => r[0]).sort((a, b) => a - b)[1];
  const high = ranges.map((r) => r[1]).sort((a, b) => b - a)[1];
  return low < high ? [low, high] : null;
}
