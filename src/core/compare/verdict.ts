import { write, writeMargin } from '#core/text/words';
import { MOST_MORE } from './moreMounts';
import { type BoundWords, boundWords, type Outcome } from './outcomes';
import type { Verdict } from './types';

/**
 * Verdict of a pair from its simultaneous interval on a − b: `cooler` says that a lies lower, whatever the outcome calls that.
 * The order of the rules matters: an interval may be significant and yet too small to matter.
 * @param margin smallest difference that matters to the reader, in the outcome's unit
 */
export function verdictOf([low, high]: [number, number], margin: number): Verdict {
  const insideMargin = -margin < low && high < margin;
  if (high < 0) return insideMargin ? 'cooler_within_margin' : 'cooler';
  if (low > 0) return insideMargin ? 'warmer_within_margin' : 'warmer';
  return insideMargin ? 'tied' : 'unresolved';
}

/**
 * Verdict where some mounts have bounds only: those were left out, so the mean of what is left lies too low or too high, and only a claim
 * that gets stronger with the true value stands.
 * @param above whether the true means of a and b may lie above what is left
 * @param below whether they may lie below
 */
export function boundedVerdict(verdict: Verdict, { above, below }: { above: boolean[]; below: boolean[] }): Verdict {
  if (![...above, ...below].some(Boolean)) return verdict;
  if ((verdict === 'warmer' || verdict === 'warmer_within_margin') && !above[1] && !below[0]) return 'warmer';
  if ((verdict === 'cooler' || verdict === 'cooler_within_margin') && !above[0] && !below[1]) return 'cooler';
  return 'unresolved';
}

interface SentenceInput {
  a: string;
  b: string;
  difference: number;
  ci: [number, number];
  confidence: number;
  verdict: Verdict;
  firm: boolean;
  mounts: [number, number];
  /** runs of a specimen that is a state which cannot be remounted, else null */
  runs_only?: [number | null, number | null];
  margin: number;
  outcome: Outcome;
  /** null where thirty would not do; absent where it was not asked */
  more_mounts?: number | null;
  /** specimens of the two of which some mounts have a lower bound only */
  throttled?: string[];
  bound?: BoundWords;
  /** scatter taken from elsewhere because a specimen has one mount, and the scatter at which the verdict would flip */
  assumed?: { sd: number; flips_at: number | null; from?: string };
}

/** A verdict as a sentence with its numbers, told from the better specimen's side. */
export function verdictSentence(input: SentenceInput): string {
  const swap = input.outcome.better === 'lower' ? input.difference > 0 : input.difference < 0;
  const [cool, warm] = swap ? [input.b, input.a] : [input.a, input.b];
  const order = swap ? [1, 0] : [0, 1];
  const counts = order.map((i) => ({ name: i === 0 ? input.a : input.b, mounts: input.mounts[i], runs: input.runs_only?.[i] ?? null }));
  const { digits, unit } = input.outcome;
  const size = Math.abs(input.difference);
  const [low, high] = swap === (input.outcome.better === 'lower') ? [input.ci[0], input.ci[1]] : [-input.ci[1], -input.ci[0]];
  const percent = Number((100 * input.confidence).toFixed(1));
  // an end that rounds to nought would hide on which side of it it lies
  const fine = [low, high].some((end) => end !== 0 && Number(end.toFixed(digits)) === 0) ? digits + 1 : digits;
  // what all reads the same to the last digit has no scatter to tell an interval by
  const alike = low === high;
  const interval = `${percent} % ${write(low, fine)} to ${write(high, fine)}, ${countMounts(counts)}`;
  const amount = `${write(size, digits)} ${unit}`;
  const limit = `${writeMargin(input.margin)} ${unit}`;
  const { verb, than } = input.outcome;
  const opening = input.assumed
    ? `Assuming a mount-to-mount scatter of ${write(input.assumed.sd, digits + 1)} ${unit}${input.assumed.from ? ` (${input.assumed.from})` : ''}: `
    : '';
  const closing = input.firm ? '; firm.' : '; depends on the method.';
  const flip = input.assumed?.flips_at ? ` It would flip at a scatter of ${write(input.assumed.flips_at, digits + 1)} ${unit}.` : '';
  const end = input.assumed ? `.${flip}` : closing;

  if (alike && input.assumed)
    return `${cool} and ${warm} read ${amount} apart (${countMounts(counts)}): no interval can be given, because the scatter between mounts is unknown; remount to measure it.`;
  if (alike)
    return `${opening}${cool} and ${warm} read ${amount} apart (${countMounts(counts)}), and all mounts of each read the same to the last digit: no interval can be given; a finer reading would show the scatter.`;
  if (input.throttled && input.throttled.length > 0) {
    const words = input.bound ?? boundWords('rise');
    const who = `${input.throttled.join(' and ')} ${words.did} in some mounts`;
    const bound = write(Math.max(0, low), digits);
    return input.verdict === 'unresolved'
      ? `${opening}${cool} and ${warm} cannot be distinguished: ${who}, so the mean of the others is ${words.left}. ${words.instead}`
      : `${opening}${cool} ${verb} at least ${bound} ${unit} ${than} ${warm} (${percent} %, ${countMounts(counts)}); ${who}${end}`;
  }
  switch (input.verdict) {
    case 'cooler':
    case 'warmer':
      return `${opening}${cool} ${verb} ${amount} ${than} ${warm} (${interval})${end}`;
    case 'cooler_within_margin':
    case 'warmer_within_margin':
      return `${opening}${cool} ${verb} ${amount} ${than} ${warm} (${interval}), less than the ${limit} that matters${end}`;
    case 'tied':
      return `${opening}${cool} and ${warm} are equivalent within ±${limit}: ${amount} apart (${interval})${end}`;
    case 'unresolved': {
      const more =
        input.more_mounts === undefined
          ? 'more mounts may settle it'
          : input.more_mounts === null
            ? `more than ${MOST_MORE} more mounts of each would be needed to settle it`
            : `about ${input.more_mounts} more ${input.more_mounts === 1 ? 'mount' : 'mounts'} each would settle it`;
      // what is open is open under every school; nothing about it is firm
      const rests = input.firm ? ', whatever the method.' : closing;
      return `${opening}${cool} and ${warm} are not distinguishable: ${amount} apart (${interval}); ${more}${input.assumed ? `.${flip}` : rests}`;
    }
  }
}

function countMounts([cool, warm]: { name: string; mounts: number; runs: number | null }[]): string {
  const count = (n: number, what: string) => `${n} ${n === 1 ? what : `${what}s`}`;
  if (cool.runs === null && warm.runs === null && cool.mounts === warm.mounts) return `${count(cool.mounts, 'mount')} each`;
  const say = (s: typeof cool) =>
    s.runs === null ? `${count(s.mounts, 'mount')} of ${s.name}` : `${count(s.runs, 'run')} of ${s.name} as it was`;
  return cool.runs === null && warm.runs === null ? `${say(cool)}, ${warm.mounts} of ${warm.name}` : `${say(cool)}, ${say(warm)}`;
}
