import { write, writeSigned } from '#core/text/words';
import type { Estimate, Parting, StepRecord, ThermalStructure } from '#core/thermal/transient/types';

const COUNTS = ['no', 'one', 'two', 'three', 'four', 'five', 'six', 'seven', 'eight', 'nine'];
/** J/(kg·K) */
const COPPER = 385;
const ALUMINIUM = 897;

/** A resistance with the digits its error leaves, K/W. */
export const writeResistance = ({ value }: Pick<Estimate, 'value'>): string => write(value, Math.abs(value) < 0.1 ? 4 : 3);

/** 95 % interval of an estimate, in words. */
export function writeInterval({ value, se }: Estimate): string {
  const digits = Math.abs(value) < 0.1 ? 4 : 3;
  return `${write(Math.max(0, value - 1.96 * se), digits)} to ${write(value + 1.96 * se, digits)}`;
}

/** What one step tells, in a sentence. */
export function structureSentence(
  { sensor }: Pick<StepRecord, 'sensor'>,
  { layers, total }: Pick<ThermalStructure, 'layers' | 'total'>,
): string {
  if (!total)
    return `From ${sensor} on ${COUNTS[layers.length] ?? layers.length} ${layers.length === 1 ? 'layer' : 'layers'}; the log ends before the last one can be told.`;
  const values = layers.map((l) => l.r.value);
  const largest = values.indexOf(Math.max(...values));
  const count = COUNTS[layers.length] ?? String(layers.length);
  const whole = `From ${sensor} to the room ${writeResistance(total)} K/W`;
  if (layers.length === 1) return `${whole}, all in one layer.`;
  const place =
    largest === layers.length - 1 ? 'the last one, into the room' : largest === 0 ? 'the first one, at the part' : `number ${largest + 1}`;
  return `${whole} in ${count} layers; the largest, ${writeResistance(layers[largest].r)} K/W, is ${place}.`;
}

/** What differs between two mounts, and what that rests on. The second is told against the first. */
export function partingWords(parting: Parting, [first, second]: [string, string], power_w: number): { claim: string; basis: string } {
  const { kind, at, more, totals } = parting;
  if (kind === 'alike' || !at || !more)
    return {
      claim: `${first} and ${second} are alike.`,
      basis: totals
        ? `As far as these logs can tell: ${writeResistance(totals[0])} K/W, layer by layer.`
        : 'As far as these logs reach, layer by layer.',
    };
  const warmer = `${second} runs ${write(Math.abs(more.value * power_w), 1)} K ${more.value > 0 ? 'warmer' : 'cooler'} than ${first} at ${write(power_w, 0)} W.`;
  if (parting.is_last && !totals)
    return {
      claim: `${first} and ${second} differ in the last layer.`,
      basis: 'By how much cannot be told: a log ends before its temperature does.',
    };
  if (parting.within !== null && kind === 'one_layer')
    return {
      claim: `Close to the sensor: ${warmer}`,
      basis: `They part within ${writeResistance({ value: parting.within })} K/W of it; where there, the logs are too slow to tell.`,
    };
  const place =
    at.value === 0 ? 'They part at the sensor itself' : `They part ${writeResistance(at)} K/W from the sensor (95 % ${writeInterval(at)})`;
  if (kind === 'from_the_start')
    return { claim: `Another part, sensor or load: ${warmer}`, basis: 'They differ from the sensor on, by more than one layer.' };
  if (kind === 'from_here_on')
    return {
      claim: `More than one layer: ${warmer}`,
      basis: `${place}, and everything beyond differs: what stands there, a cooler or its base, is another.`,
    };
  if (parting.is_last)
    return {
      claim: `The way into the air, no interface: ${warmer}`,
      basis: `${place}, by the last layer alone: fins, fan, or what lies in their way.`,
    };
  return { claim: `An interface, not the cooler: ${warmer}`, basis: `${place}, by one layer alone; what lies beyond it is the same.` };
}

/** What else is to be said of a parting. */
export function partingNotes({ kind, ends, more, others, before_j_per_k, within }: Parting): string[] {
  const notes: string[] = [];
  if (kind === 'one_layer' && ends && more)
    notes.push(
      `The layer ends ${writeResistance(ends[0])} K/W from the sensor in the first, ${writeResistance(ends[1])} K/W in the second: ${writeSigned(more.value, 4)} K/W (95 % ${write(more.value - 1.96 * more.se, 4)} to ${write(more.value + 1.96 * more.se, 4)}).`,
    );
  if (before_j_per_k && kind !== 'from_the_start' && within === null)
    notes.push(
      `Up to there ${write(before_j_per_k.value, 0)} J/K are stored, as much as in ${write(before_j_per_k.value / COPPER, 2)} kg of copper or ${write(before_j_per_k.value / ALUMINIUM, 2)} kg of aluminium: that helps to name the place.`,
    );
  if (others.length > 0)
    notes.push(`A layer that begins ${others.map((o) => write(o, 3)).join(' or ')} K/W from the sensor tells the two nearly as well.`);
  return notes;
}
