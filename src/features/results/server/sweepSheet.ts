import { database } from '#app/database/pool';
import { soundUnit, speedsOf } from '#features/results/model/sweeps';
import { listMounts } from '#features/study/store/studies';
import { gatherStudy } from './studyResults';

/** Speeds of a sweep where none were run yet, rpm: even in their logarithm, as noise is. */
const USUAL_SPEEDS = [600, 750, 950, 1200, 1500];
const MOST_SPEEDS = 12;

/** A sheet to measure coolers over their fan speeds by: every mount at every speed, with room for what is read. */
interface SweepSheet {
  title: string;
  unit: string;
  floor_db: number | null;
  distance_m: number | null;
  speeds: number[];
  /** why the speeds that were asked for are not those */
  problem: string | null;
  mounts: { specimen: string; position: number; mount: number }[];
}

/**
 * @param asked speeds as typed into the address, such as "700,950,1250"; null takes those that were run, else usual ones
 */
export async function sweepSheet(id: number, asked: string | null): Promise<SweepSheet> {
  const { study, facts } = await gatherStudy(id);
  const known = speedsOf(facts);
  const read = asked === null ? null : readSpeeds(asked);
  const mounts = await listMounts(database(), id);
  return {
    ...{ title: study.title, unit: soundUnit(facts.sound), floor_db: facts.sound.floor_db, distance_m: facts.sound.distance_m },
    speeds: read ?? (known.length > 2 ? known : USUAL_SPEEDS),
    problem:
      asked !== null && !read
        ? `Speeds are up to ${MOST_SPEEDS} numbers of rpm, such as 700, 950, 1250, 1600; "${asked.slice(0, 60)}" is not.`
        : null,
    mounts: facts.specimens.flatMap((s) => {
      const made = mounts.filter((m) => m.specimen_id === s.id).map((m) => m.number);
      return (made.length > 0 ? made : [1]).map((mount) => ({ specimen: s.name, position: s.position, mount }));
    }),
  };
}

function readSpeeds(text: string): number[] | null {
  const speeds = text
    .split(/[;,\s]+/)
    .filter(Boolean)
    .map(Number);
  if (speeds.length === 0 || speeds.length > MOST_SPEEDS || speeds.some((s) => !(s >= 1 && s <= 100_000))) return null;
  return [...new Set(speeds)].sort((a, b) => a - b);
}
