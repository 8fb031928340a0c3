import { parseUnit, toBase, type Unit } from '#core/units/units';

/** Something that an instrument sent and that is no reading, and why. */
export interface RefusedReading {
  code: 'nonsense' | 'not_a_number' | 'over_range' | 'wrong_unit' | 'count' | 'instrument_error' | 'retained' | 'no_register';
  message: string;
}

/** SCPI-99: not a number, and plus and minus infinity of a reading that is out of range. */
const NOT_A_NUMBER = 9.91e37;
const INFINITE = 9.9e37;

/** Suffixes that instruments send behind figures, as SCPI-99 spells them. */
const SUFFIXES: Record<string, Unit> = {
  CEL: 'degC',
  C: 'degC',
  FAR: 'degF',
  F: 'degF',
  K: 'K',
  W: 'W',
  MW: 'mW',
  V: 'V',
  A: 'A',
  RPM: 'rpm',
  DB: 'dB',
  DBA: 'dB',
  PCT: 'percent',
  MHZ: 'MHz',
  GHZ: 'GHz',
};

/**
 * Figures of an instrument's answer, in the core's units. What is no figure becomes NaN, a gap, and is told.
 * @param line figures with commas between them
 * @param units unit of each, as the channel map says
 */
export function readAnswer(line: string, units: (Unit | null)[]): { values: number[]; refused: RefusedReading[] } {
  const parts = line.split(',').map((p) => p.trim());
  const gap = units.map(() => Number.NaN);
  const short = line.length > 60 ? `${line.slice(0, 60)}…` : line;
  if (parts.length !== units.length)
    return {
      values: gap,
      refused: [
        {
          code: parts.some((p) => Number.isNaN(Number.parseFloat(p))) ? 'nonsense' : 'count',
          message: `"${short}" holds ${parts.length} figures where ${units.length} were asked.`,
        },
      ],
    };
  const refused: RefusedReading[] = [];
  const values = parts.map((part, i) => {
    const read = /^([+-]?(?:\d+\.?\d*|\.\d+)(?:E[+-]?\d+)?)\s*([A-Z%°/]*)$/i.exec(part);
    if (!read) {
      const isNan = /^[+-]?NAN$/i.test(part);
      refused.push(
        isNan
          ? { code: 'not_a_number', message: 'It says that it has no reading (NAN).' }
          : { code: 'nonsense', message: `"${short}" is not a number.` },
      );
      return Number.NaN;
    }
    const value = Number(read[1]);
    if (Math.abs(value) >= INFINITE) {
      const nan = Math.abs(value) >= NOT_A_NUMBER;
      refused.push(
        nan
          ? { code: 'not_a_number', message: 'It says that it has no reading (9.91E37).' }
          : { code: 'over_range', message: 'It says that the reading is out of its range (9.9E37).' },
      );
      return Number.NaN;
    }
    const unit = units[i];
    const suffix = read[2] ? (SUFFIXES[read[2].toUpperCase()] ?? parseUnit(read[2])) : null;
    if (read[2] && suffix !== unit) {
      refused.push({
        code: 'wrong_unit',
        message: `It sends figures in ${read[2]}, where its sheet says ${unit ?? 'none'}. Set the instrument or its sheet.`,
      });
      return Number.NaN;
    }
    return unit ? toBase(value, unit) : value;
  });
  return { values, refused };
}
