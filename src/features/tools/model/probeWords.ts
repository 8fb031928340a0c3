import type { ProbeComparison, ProbeError } from '#core/signal/probes/compareProbes';
import { digitsOfSpread, plural, write } from '#core/text/words';

/** A probe's error with its interval, such as "0.31 ± 0.05 K too high". */
export function errorWords({ error_k, reach_k }: Pick<ProbeError, 'error_k' | 'reach_k'>): string {
  const digits = digitsOfSpread(reach_k, 1);
  if (Math.abs(error_k) <= reach_k) return `no error seen (${write(error_k, digits)} ± ${write(reach_k, digits)} K)`;
  return `${write(Math.abs(error_k), digits)} ± ${write(reach_k, digits)} K too ${error_k > 0 ? 'high' : 'low'}`;
}

/** True where the error changes with temperature by more than can be chance. */
export const changes = ({ gain, gain_reach }: ProbeError): boolean => gain !== null && gain_reach !== null && Math.abs(gain) > gain_reach;

/** The change of an error with temperature, per 10 K; a dash where it was not measured. */
export function gainWords({ gain, gain_reach }: ProbeError): string {
  if (gain === null || gain_reach === null) return '–';
  const digits = digitsOfSpread(10 * gain_reach, 1);
  return `${write(10 * gain, digits)} ± ${write(10 * gain_reach, digits)} K`;
}

/** What was found, in one sentence. */
export function comparisonSentence({ probes, temperatures_c }: ProbeComparison, reference: string): { claim: string; basis: string } {
  const worst = [...probes].sort((a, b) => Math.abs(b.error_k) - Math.abs(a.error_k))[0];
  const stretches = temperatures_c.length;
  const [low, high] = [Math.min(...temperatures_c), Math.max(...temperatures_c)];
  const at = high - low < 1 ? `at ${write((low + high) / 2, 0)} °C` : `between ${write(low, 0)} and ${write(high, 0)} °C`;
  const seen = Math.abs(worst.error_k) > worst.reach_k;
  return {
    claim: seen ? `${worst.name} reads ${errorWords(worst)}` : `No probe differs from ${reference} by more than can be chance`,
    basis: `(95 %, against ${reference}, ${plural(stretches, 'stretch', 'stretches')} ${at})`,
  };
}

/** What the reader of a comparison has to know, worst first. */
export function comparisonNotes({ probes, drift_k_per_min }: ProbeComparison): string[] {
  const notes: string[] = [];
  if (drift_k_per_min > 0.2)
    notes.push(
      `The place changed by up to ${write(drift_k_per_min, 1)} K/min: a slow probe lags behind a fast one, which counts as its error here. Wait until it changes by less than 0.2 K/min.`,
    );
  if (probes.some((p) => p.stretches === 1))
    notes.push(
      'One stretch does not tell how far the places of the probes differ: take them out and put them in again, three times or more.',
    );
  if (probes.some(changes))
    notes.push('An error changes with temperature: one offset is right only near the temperature of its comparison.');
  return notes;
}

/** What is written to the sheet of an instrument: what takes the error off its readings, and the day. */
export function sheetChange({ error_k, reach_k }: ProbeError, referenceAccuracy: number | null, day: string) {
  const rounded = (k: number) => Number(k.toFixed(digitsOfSpread(reach_k, 1)));
  return {
    offset: rounded(-error_k),
    calibrated_on: day,
    // what the reference may be off by, it is off by too
    ...(referenceAccuracy === null ? {} : { accuracy: rounded(Math.hypot(referenceAccuracy, reach_k)) }),
  };
}
