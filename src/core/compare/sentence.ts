import { write, writeMargin } from './number';
import type { Outcome, Verdict } from './types';

export interface SentenceInput {
  a: string;
  b: string;
  difference: number;
  ci: [number, number];
  confidence: number;
  verdict: Verdict;
  firm: boolean;
  mounts: [number, number];
  margin: number;
  outcome: Outcome;
  more_mounts: number | null;
  /** scatter taken from elsewhere because a specimen has one mount, and the scatter at which the verdict would flip */
  assumed?: { sd: number; flips_at: number | null };
}

/** A verdict as a sentence with its numbers, told from the cooler specimen's side. */
export function verdictSentence(input: SentenceInput): string {
  const swap = input.difference > 0;
  const [cool, warm] = swap ? [input.b, input.a] : [input.a, input.b];
  const [nCool, nWarm] = swap ? [input.mounts[1], input.mounts[0]] : input.mounts;
  const { digits, unit } = input.outcome;
  const size = Math.abs(input.difference);
  const [low, high] = swap ? [input.ci[0], input.ci[1]] : [-input.ci[1], -input.ci[0]];
  const percent = Number((100 * input.confidence).toFixed(1));
  // an end that rounds to nought would hide on which side of it it lies
  const fine = [low, high].some((end) => end !== 0 && Number(end.toFixed(digits)) === 0) ? digits + 1 : digits;
  const interval = `${percent} % ${write(low, fine)} to ${write(high, fine)}, ${countMounts(cool, nCool, warm, nWarm)}`;
  const amount = `${write(size, digits)} ${unit}`;
  const limit = `${writeMargin(input.margin)} ${unit}`;
  const word = input.outcome.key === 'rise' ? 'runs' : 'has';
  const than = input.outcome.key === 'rise' ? 'cooler than' : 'less resistance than';
  const opening = input.assumed ? `Assuming a mount-to-mount scatter of ${write(input.assumed.sd, digits + 1)} ${unit}: ` : '';
  const closing = input.firm ? '; firm.' : '; leans on the scatter assumption.';
  const flip = input.assumed?.flips_at ? ` It would flip at a scatter of ${write(input.assumed.flips_at, digits + 1)} ${unit}.` : '';
  const end = input.assumed ? `.${flip}` : closing;

  switch (input.verdict) {
    case 'cooler':
    case 'warmer':
      return `${opening}${cool} ${word} ${amount} ${than} ${warm} (${interval})${end}`;
    case 'cooler_within_margin':
    case 'warmer_within_margin':
      return `${opening}${cool} ${word} ${amount} ${than} ${warm} (${interval}), less than the ${limit} that matters${end}`;
    case 'tied':
      return `${opening}${cool} and ${warm} are tied within ${limit}: ${amount} apart (${interval})${end}`;
    case 'unresolved': {
      const more =
        input.more_mounts === null
          ? 'no reachable number of mounts would settle it'
          : `about ${input.more_mounts} more ${input.more_mounts === 1 ? 'mount' : 'mounts'} each would settle it`;
      return `${opening}${cool} and ${warm} are unresolved: ${amount} apart (${interval}); ${more}${input.assumed ? `.${flip}` : closing}`;
    }
  }
}

function countMounts(cool: string, nCool: number, warm: string, nWarm: number): string {
  if (nCool === nWarm) return `${nCool} ${nCool === 1 ? 'mount' : 'mounts'} each`;
  return `${nCool} ${nCool === 1 ? 'mount' : 'mounts'} of ${cool}, ${nWarm} of ${warm}`;
}
