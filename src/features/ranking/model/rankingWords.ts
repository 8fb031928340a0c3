import { list, plural, write } from '#core/text/words';
import type { RankingAnswer, ShownDifference } from './rankingAnswer';

/** How differences are told: mm²·K/W, or kelvin on a part. */
export interface RankingScale {
  factor: number;
  unit: string;
}

export const AREA_SCALED: RankingScale = { factor: 1, unit: 'mm²·K/W' };

/** Digits of differences, by the widest half interval that is shown with them. */
export function scaleDigits(answer: Pick<RankingAnswer, 'materials'>, { factor }: RankingScale): number {
  const halves = answer.materials.flatMap((m) => (m.se > 0 ? [(factor * (m.ci95[1] - m.ci95[0])) / 2] : []));
  const least = Math.min(...halves, 100);
  return least < 0.2 ? 2 : least < 20 ? 1 : 0;
}

interface Headline {
  claim: string;
  basis: string;
}

/** What the ranking says first, and what that rests on. */
export function headlineOf(answer: RankingAnswer, names: Record<string, string>, scale: RankingScale, noun = 'material'): Headline {
  const nameOf = (key: string) => names[key] ?? key;
  const digits = scaleDigits(answer, scale);
  const told = (v: number) => write(scale.factor * v, digits);
  const { materials, setups, mounts, reference, df, tau } = answer;
  const basis = [
    `${plural(setups, 'set-up')}, ${plural(materials.length, noun)}, ${plural(mounts, 'mount')}.`,
    ...(setups < 3
      ? [
          setups === 1
            ? 'One set-up alone: these are its own intervals, and nothing says yet how another would differ.'
            : 'Fewer than three set-ups: how far another would differ can hardly be said.',
        ]
      : []),
    ...(tau === null
      ? []
      : [
          tau === 0
            ? 'The leads agree between set-ups as well as the mounts can show.'
            : `A lead differs from set-up to set-up by ${told(tau)} ${scale.unit} (τ, standard deviation)${answer.Q_p !== null && answer.Q_p < 0.05 ? ', more than the mounts scatter' : ''}.`,
        ]),
  ].join(' ');
  const [leader, second] = materials;
  if (!second) return { claim: `${nameOf(leader.material)} is the only ${noun} so far.`, basis };
  // told against the reference, or where that leads against the next
  const isReference = leader.material === reference;
  const other = isReference ? second : leader;
  const [low, high] = isReference ? other.ci95 : [-other.ci95[1], -other.ci95[0]];
  const than = isReference ? second.material : reference;
  const lead = Math.abs(other.difference);
  const different = low > 0;
  const alike = leader.group === '' ? [] : materials.filter((m) => m !== leader && [...m.group].some((g) => leader.group.includes(g)));
  const claim = different
    ? `${nameOf(leader.material)} leads: ${told(lead)} ${scale.unit} below ${nameOf(than)} (95 % ${told(low)} to ${told(high)}).`
    : `${nameOf(leader.material)} is first, but not distinguishable from ${nameOf(than)}: ${told(lead)} ${scale.unit} below (95 % ${told(low)} to ${told(high)}).`;
  const others = alike.filter((m) => m.material !== than);
  return {
    claim,
    basis:
      others.length > 0 && others.length < 6
        ? `Not distinguishable from it: ${list(others.map((m) => nameOf(m.material)))}. ${basis}`
        : df > 0 || setups === 1
          ? basis
          : `${basis} The intervals are those of the mounts.`,
  };
}

/** How a material is compared with the reference. */
export const evidenceWords = (through: string[] | null, shared: number, names: Record<string, string>): string =>
  through === null
    ? `${plural(shared, 'set-up')} with both`
    : through.length === 0
      ? 'not connected'
      : `through ${list(through.map((k) => names[k] ?? k))}`;

/**
 * Whether the interval of a difference is wider than what a set-up not measured yet would show: Student's t of few degrees of freedom widens
 * the first alone.
 */
export const isMoreCareful = ({ ci95, shown95 }: Pick<ShownDifference, 'ci95' | 'shown95'>): boolean =>
  shown95 !== null && shown95[1] - shown95[0] < ci95[1] - ci95[0];
