import { wordsOf } from '#core/signal/logs/roles';
import type { Role } from '#core/signal/logs/types';
import type { ReadingQuality } from '#core/signal/readingQuality';
import { UNITS, type Unit } from '#core/units/units';

/** Something that an instrument sends. */
export interface Arriving {
  /** what stands behind the equals sign of its channel; empty where the channel has the name that comes */
  query: string;
  /** name, role and unit that are proposed, or that the sheet says */
  name: string;
  role: Role;
  unit: Unit | null;
  /** newest figure as it came */
  text: string;
  /** a broker kept it from before: it is of unknown age and no reading */
  kept: boolean;
  quality: ReadingQuality;
}

/** What a page is told while an instrument is watched. */
export interface ArrivingNews {
  elapsed_s: number;
  /** how long it is watched, s */
  lasts_s: number;
  /** over what it came: the whole instrument, or the channels of its sheet */
  what: 'all' | 'channels';
  seen: Arriving[];
  /** who answers, where it says so */
  identity: string | null;
  problem: string | null;
  /** what came and could not be taken, newest last */
  refused: string[];
  over: boolean;
}

/** A channel as it is written on a sheet. */
export const channelText = ({ name, role, unit, query }: Pick<Arriving, 'name' | 'role' | 'unit' | 'query'>): string =>
  `${name}: ${role}${unit ? ` ${UNITS[unit].symbol}` : ''}${query ? ` = ${query}` : ''}`;

/** A name that a channel map takes: no colon, equals sign or semicolon, up to 40 characters. */
export const channelName = (text: string): string =>
  text
    .replace(/[:;=\n]+/g, ' ')
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, 40)
    .trim();

/** Units by the words of a name, where what comes says none. */
const UNIT_WORDS: [RegExp, Unit][] = [
  [/\b(temp|temperature|t|tc|celsius|die|probe|room|ambient)\b/i, 'degC'],
  [/\b(power|apower|watts?)\b/i, 'W'],
  [/\b(rpm|fan|tach|tacho)\b/i, 'rpm'],
  [/\b(noise|spl|sound|level)\b/i, 'dB'],
  [/\b(voltage|volts?)\b/i, 'V'],
  [/\b(current|amps?)\b/i, 'A'],
  [/\b(clock|frequency|freq)\b/i, 'MHz'],
];

/** The unit that the last word of a name speaks of; null where it speaks of none. */
export function unitOfName(name: string): Unit | null {
  const last = wordsOf(name)
    .split(' ')
    .filter((word) => !/^\d+$/.test(word))
    .at(-1);
  return UNIT_WORDS.find(([words]) => words.test(last ?? ''))?.[1] ?? null;
}

/** Each name once: a second of the same gets a number. */
export function apart(names: string[]): string[] {
  const taken = new Set<string>();
  return names.map((name) => {
    let own = name;
    for (let n = 2; taken.has(own); n++) own = channelName(`${name.slice(0, 36)} ${n}`);
    taken.add(own);
    return own;
  });
}
