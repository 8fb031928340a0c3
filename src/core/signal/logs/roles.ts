import { isTemperature, type Unit } from '#core/units/units';
import type { Role } from './types';
import { english } from './words';

interface Candidate {
  name: string;
  unit: Unit | null;
  /** in a unit that no role reads */
  other: boolean;
  values: Float64Array;
}

interface Guess {
  role: Role;
  reason: string;
}

const NOT_A_READING = /\b(limit|target|threshold|set ?point|stop|minimum|maximum|min|max|avg|average|margin|valve|ratio|duty|offset)\b/i;
const DIE = /\b(die|dies|core|cores|junction|hot ?spot|hottest|package|lid|case|tile|sensor|probe|chip|t[jc])\b/i;
const HOT_SPOT = /\b(hot ?spot|junction)\b/i;
/** A hot spot of these is theirs, not the part's. */
const OTHER_PART = /\b(memory|regulator|supply|drive|disk|vrm|mosfet|battery)\b/i;
const ELSEWHERE = /\b(memory|board|regulator|supply|drive|disk|vrm|slot|socket|card|hub|back ?plate|fan)\b/i;
const AMBIENT = /\b(ambient|room|inlet|intake|lab|environment|surrounding|surroundings|air in)\b/i;
const EXHAUST = /\b(exhaust|outlet|air out)\b/i;
const COOLANT = /\b(coolant|water|liquid|loop|fluid)\b/i;
const THE_PART = /\b(package|part|chip|core|die|card|total|dut)\b/i;
const OTHER_POWER = /\b(cooler|pump|wall|slot|memory|socket|board|regulator|fan|supply)\b/i;

/**
 * Guesses the role of every column from its name, unit and values.
 * Of several power, clock or fan columns one is taken and the others are ignored, never summed.
 */
export function guessRoles(columns: Candidate[]): Guess[] {
  const guesses = columns.map(guessByName);
  const temperatures = columns.flatMap((c, i) =>
    isTemperature(c.unit) && guesses[i].role === 'ignore' && guesses[i].reason === '' ? [i] : [],
  );
  // a hot spot alone does not say that the general temperature beside it is another part's
  const hasDie = guesses.some((g, i) => g.role === 'sensor' && !HOT_SPOT.test(said(columns[i].name)));
  if (!hasDie) {
    // nothing is named like a die: temperatures of no stated place are the sensors
    for (const i of temperatures)
      if (!ELSEWHERE.test(said(columns[i].name)) || sharesPart(columns, guesses, i))
        guesses[i] = { role: 'sensor', reason: 'a temperature, and none is named as the die' };
    if (!guesses.some((g) => g.role === 'sensor')) {
      for (const i of temperatures) guesses[i] = { role: 'sensor', reason: 'the only temperatures in the file' };
    }
  }
  keepOne(columns, guesses, 'power', (name) => (THE_PART.test(name) ? 2 : 0) - (OTHER_POWER.test(name) ? 1 : 0));
  keepOne(
    columns,
    guesses,
    'clock',
    (name) => (/\b(core|die|chip)\b/i.test(name) ? 2 : 0) - (/\b(memory|base|bus|effective)\b/i.test(name) ? 1 : 0),
  );
  keepOne(columns, guesses, 'fan', (name) => (/\bpump\b/i.test(name) ? -1 : 0));
  keepOne(columns, guesses, 'load', () => 0);
  return guesses.map((g) =>
    g.role === 'ignore' && g.reason === '' ? { role: 'ignore', reason: 'neither name nor unit says what it is for' } : g,
  );
}

/** Words of a name that is written together or with signs between, such as die_1, DieTemp or room-air. */
export const wordsOf = (name: string): string =>
  name
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .replace(/([A-Za-z])(\d)/g, '$1 $2')
    .replace(/[_\-./]+/g, ' ')
    .trim();

/** What a name says, in English too. */
const said = (name: string): string => english(wordsOf(name));

/** True for the general temperature of the very part whose hot spot stands in another column: "Card" beside "Card hot spot". */
function sharesPart(columns: Candidate[], guesses: Guess[], i: number): boolean {
  const general = (name: string) =>
    said(name)
      .toLowerCase()
      .replace(/hot ?spot|junction|temperatures?|temp/g, ' ')
      .replace(/\s+/g, ' ')
      .trim();
  const own = general(columns[i].name);
  return columns.some((c, k) => k !== i && guesses[k].role === 'sensor' && HOT_SPOT.test(said(c.name)) && general(c.name) === own);
}

function guessByName({ name: header, unit, other, values }: Candidate): Guess {
  const name = said(header);
  const none: Guess = { role: 'ignore', reason: '' };
  const by = (role: Role): Guess => ({ role, reason: 'from its name and unit' });
  if (/throttl/i.test(name)) {
    return onlyZeroAndOne(values)
      ? by('throttle')
      : { role: 'ignore', reason: 'named like a throttle flag, but holds other values than 0 and 1' };
  }
  if (NOT_A_READING.test(name)) return { role: 'ignore', reason: 'a limit, set-point or derived figure, not a reading' };
  if (other) return { role: 'ignore', reason: 'in a unit that is not used' };
  if (isTemperature(unit) || unit === null) {
    const named = unit !== null || /temp|°|\bt\b/i.test(name) || plausibleTemperature(values);
    if (named) {
      if (AMBIENT.test(name) && !/humid|press|light|noise/i.test(name)) return by('ambient');
      if (EXHAUST.test(name)) return by('exhaust');
      if (COOLANT.test(name) && !/flow|pump/i.test(name)) return by('coolant');
      if (HOT_SPOT.test(name) && !OTHER_PART.test(name)) return by('sensor');
      if (DIE.test(name) && !ELSEWHERE.test(name) && !/power|clock|volt|fan|load/i.test(name)) return by('sensor');
    }
  }
  if (isTemperature(unit)) return none;
  if (unit === 'W' || unit === 'mW' || (unit === null && /\bpower\b/i.test(name) && !/power[- ]on/i.test(name))) return by('power');
  if (unit === 'MHz' || unit === 'GHz' || (unit === null && /\b(clock|frequency)\b/i.test(name))) return by('clock');
  if (unit === 'rpm' || (unit === null && /\bfan\b|\brpm\b/i.test(name))) return by('fan');
  if (unit === 'dB' || (unit === null && /\b(noise|sound level)\b/i.test(name))) return by('noise');
  if ((unit === 'percent' || unit === null) && /\b(load|usage|utili[sz]ation|activity)\b/i.test(name)) return by('load');
  if ((unit === 'V' || unit === 'mV') && /\b(core|die|chip|voltage)\b/i.test(name) && !ELSEWHERE.test(name)) return by('voltage');
  if (unit === null && /\bscore\b/i.test(name)) return by('score');
  if (/\bframe/i.test(name)) return by('frame');
  return none;
}

function keepOne(columns: Candidate[], guesses: Guess[], role: Role, rank: (name: string) => number): void {
  const claims = guesses.flatMap((g, i) => (g.role === role ? [i] : []));
  if (claims.length < 2) return;
  const best = claims.reduce((b, i) => (rank(said(columns[i].name)) > rank(said(columns[b].name)) ? i : b));
  for (const i of claims) {
    if (i !== best)
      guesses[i] = { role: 'ignore', reason: `"${columns[best].name}" is taken as the ${role} column; columns are never summed` };
  }
}

const onlyZeroAndOne = (values: Float64Array): boolean => values.every((v) => Number.isNaN(v) || v === 0 || v === 1);

/** Readings that a temperature could have in °C or °F: whichever it is, is settled with the levels of the run. */
function plausibleTemperature(values: Float64Array): boolean {
  let known = 0;
  let plausible = 0;
  for (const v of values) {
    if (Number.isNaN(v)) continue;
    known++;
    // impossible values of a dead probe do not say that the column is none
    if ((v > -40 && v < 270) || v === -127 || v === 655.35) plausible++;
  }
  return known > 0 && plausible > 0.9 * known;
}
