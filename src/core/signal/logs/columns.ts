import { median } from '#core/stats/quantiles';
import { smallestStep } from '#core/stats/smallestStep';
import { toBase, UNITS, type Unit } from '#core/units/units';
import type { Header } from './headers';
import { guessRoles } from './roles';
import type { LogColumn, LogOptions } from './types';

/** A column in kelvin whose readings lie above this holds temperatures, one below it rises over ambient. */
const LEAST_ABSOLUTE_K = 150;

/** A column as it stands in the file. */
interface RawColumn extends Header {
  index: number;
  /** in the file's unit */
  values: Float64Array;
  /** cells that are neither a reading nor missing, and no reading */
  text: boolean;
}

/** Columns with their roles, in the core's units. Values are changed in place. */
export function readColumns(raw: RawColumn[], options: LogOptions): LogColumn[] {
  const guesses = guessRoles(raw);
  const explicit = new Set(Object.values(options.roles ?? {}));
  return raw.map((column, i) => {
    const given = options.roles?.[column.name];
    const isPrimary = given === undefined && column.name === options.sensor;
    const displaced =
      !options.keep_guesses && given === undefined && !isPrimary && guesses[i].role !== 'ignore' && explicit.has(guesses[i].role);
    const guessed = column.text || displaced ? 'ignore' : guesses[i].role;
    const isPart = guessed === 'ignore' && !column.text && options.parts?.includes(column.name) === true;
    const role = given ?? (isPrimary ? 'sensor' : isPart ? 'part' : guessed);
    const reason = given
      ? 'given by hand'
      : isPart && !isPrimary
        ? 'named as a part by the plan or the rig'
        : displaced
          ? `another column is set as ${guesses[i].role}`
          : column.text
            ? 'holds text'
            : guesses[i].reason;
    const unit = column.unit ?? (column.other ? null : impliedUnit(role));
    const step = smallestStep(column.values);
    const resolution = step === null ? null : Number(step.toPrecision(6)) * (unit === null ? 1 : UNITS[unit].factor);
    const { values } = column;
    const isRise = unit === 'K' && role !== 'ambient' && !(median(values) > LEAST_ABSOLUTE_K);
    if (unit !== null && unit !== UNITS[unit].base && !isRise) for (let k = 0; k < values.length; k++) values[k] = toBase(values[k], unit);
    return { index: column.index, name: column.name, unit, labelled: column.unit !== null, role, reason, values, resolution, rise: isRise };
  });
}

/** Unit to assume for a role where the file names none. */
function impliedUnit(role: LogColumn['role']): Unit | null {
  const implied: Partial<Record<LogColumn['role'], Unit>> = {
    sensor: 'degC',
    ambient: 'degC',
    coolant: 'degC',
    exhaust: 'degC',
    part: 'degC',
    power: 'W',
    clock: 'MHz',
    fan: 'rpm',
    load: 'percent',
    noise: 'dB',
    voltage: 'V',
  };
  return implied[role] ?? null;
}
