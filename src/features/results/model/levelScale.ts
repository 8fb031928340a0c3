import { OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';

/** How a study tells the level of a rise; differences are the same kelvins under each. */
export type AmbientSchool = 'difference' | 'absolute' | 'referred';

/** The room that a referred temperature is told for, °C. */
const REFERRED_C = 20;
const RISES = new Set<OutcomeKey>(['rise', 'rise_at_power', 'hottest', 'coldest', 'sensor', 'part_rise', 'idle_rise']);

/** An outcome that is told for a sensor or part by name. */
const OF_ONE = /of one (sensor|part)$/;

/** What a level is called, its unit, and what is added to a value before it is printed. */
export interface LevelScale {
  name: string;
  unit: string;
  plus: number;
  /** words behind a level in a sentence */
  behind: string;
}

/** The scale on which levels of an outcome are shown: as they are, or a rise as the temperature it is in a room of 20 °C, or as it was. */
export function levelScale(school: AmbientSchool, outcome: OutcomeKey, sensor: string | null = null): LevelScale {
  const { unit } = OUTCOMES[outcome];
  const own = OUTCOMES[outcome].name;
  const name = sensor && OF_ONE.test(own) ? own.replace(OF_ONE, `of ${sensor}`) : own;
  if (school === 'referred' && RISES.has(outcome)) {
    return {
      name: `${name.replace(' over ambient', '')}, as temperature in a room of ${REFERRED_C} °C`,
      unit: '°C',
      plus: REFERRED_C,
      behind: ` in a room of ${REFERRED_C} °C`,
    };
  }
  if (school === 'absolute' && outcome === 'rise') return { name: 'Temperature, room not subtracted', unit: '°C', plus: 0, behind: '' };
  return { name, unit, plus: 0, behind: outcome === 'rise' ? ' over ambient' : '' };
}
