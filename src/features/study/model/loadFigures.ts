import type { Load } from './loads';

/** The programs that make up a load, the first its own. */
export const loadPrograms = ({ program, beside }: Pick<Load, 'program' | 'beside'>): string[] =>
  [program ?? '', ...(beside ?? '').split(',')].map((p) => p.trim()).filter(Boolean);

/** What is wrong with the programs of a load, as a sentence; null where nothing is. */
export function programsProblem(load: Pick<Load, 'name' | 'program' | 'beside' | 'ended_by'>): string | null {
  const programs = loadPrograms(load);
  if (load.beside && !load.program) return `${load.name || 'The load'} names other programs, but no program of its own.`;
  if (!load.ended_by || programs.includes(load.ended_by.trim())) return null;
  return `${load.name || 'The load'} ends with "${load.ended_by}", which is not one of its programs${programs.length > 0 ? ` (${programs.join(', ')})` : ''}.`;
}

/** Minutes of one run of a load: its steps as often as they are repeated, and those of its ladder. */
export const loadMinutes = (load: Load): number =>
  (load.cycles ?? 1) * load.steps.reduce((sum, s) => sum + s.minutes, 0) + (load.ladder ?? []).length * (load.ladder_min ?? 0);

/** Highest power of the load steps; null where none is stated. */
export function loadPower(loads: Load[]): number | null {
  const powers = loads.flatMap((l) => l.steps.map((s) => s.power_w ?? null)).filter((p) => p !== null);
  return powers.length === 0 ? null : Math.max(...powers);
}

/** Is a load a stability ladder, of which each step is tried? */
export const isLadder = ({ ladder }: Pick<Load, 'ladder'>): boolean => (ladder ?? []).length > 0;
