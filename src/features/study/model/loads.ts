import { Amount, ListOf, Maybe, OneOf, Text, Whole } from '#rules/rules';
import { STAGES, type Stage } from './stages';

const within = (what: string, min: number, max: number, unit = '') =>
  Maybe(Amount(min, max, `${what} of a load should be a number between ${min} and ${max}${unit && ` ${unit}`}.`));
const counted = (what: string, most: number) => Maybe(Whole(1, most, `${what} of a load should be a whole number from 1 to ${most}.`));

/** One step of a load. */
export class LoadStep {
  @OneOf(Object.keys(STAGES), `A step of a load is one of ${Object.keys(STAGES).join(', ')}.`)
  stage!: Stage;

  @Amount(0.1, 10_000, 'A step of a load should take 0.1 to 10000 min.')
  minutes!: number;

  @within('The power', 0, 100_000, 'W')
  power_w?: number | null;

  @within('The clock', 0, 100_000, 'MHz')
  clock_mhz?: number | null;

  @within('The voltage', 0, 100, 'V')
  voltage_v?: number | null;

  @within('The fan speed', 0, 100_000, 'rpm')
  fan_rpm?: number | null;
}

/** One step of a stability ladder as it is planned. */
export class LadderStep {
  @Amount(1, 100_000, 'A ladder step has a clock between 1 and 100000 MHz.')
  clock_mhz!: number;

  @within('The voltage', 0, 100, 'V')
  voltage_v?: number | null;
}

/** A named load that is run on every mount. */
export class Load {
  @Text(1, 60, 'A load has a name of 1 to 60 characters.')
  name!: string;

  @Maybe(Text(0, 80, 'The program of a load holds up to 80 characters.'))
  program?: string | null;

  /** programs that run beside it, parted by commas */
  @Maybe(Text(0, 200, 'The other programs of a load have up to 200 characters.'))
  beside?: string | null;

  /** the program with whose end the load ends, where several run */
  @Maybe(Text(0, 80, 'The program that ends a load holds up to 80 characters.'))
  ended_by?: string | null;

  @Maybe(Text(0, 40, 'The version of a load holds up to 40 characters.'))
  version?: string | null;

  @Maybe(Text(0, 200, 'The settings of a load hold up to 200 characters.'))
  settings?: string | null;

  @counted('The number of threads', 100_000)
  threads?: number | null;

  /** scene, and where in it the run starts */
  @Maybe(Text(0, 120, 'Scene and starting point have up to 120 characters.'))
  scene?: string | null;

  @counted('The cycles', 1000)
  cycles?: number | null;

  @ListOf(() => LoadStep, 20, 'The steps of a load are a list of up to 20, each with its stage and minutes.')
  steps!: LoadStep[];

  @Maybe(ListOf(() => LadderStep, 60, 'The ladder of a load is a list of up to 60 steps, each with its clock.'))
  ladder?: LadderStep[] | null;

  /** how long each step of the ladder is held */
  @within('The time of a ladder step', 0.1, 10_000, 'min')
  ladder_min?: number | null;
}
