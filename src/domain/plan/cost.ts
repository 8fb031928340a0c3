import type { ResolvedPlan } from './resolve';

export interface CostLine {
  what: string;
  amount: number;
}

export interface StudyCost {
  /** null where currencies are mixed or nothing is priced */
  currency: string | null;
  lines: CostLine[];
  total: number;
  /** specimens whose material has no price */
  unpriced: string[];
  /** specimens priced in another currency, left out of the sum */
  other_currency: string[];
  hands_h: number;
}

/** Money and hands-on hours of a plan with a number of mounts per specimen. */
export function studyCost({ specimens, said }: ResolvedPlan, mounts: number): StudyCost {
  const currency = said.currency ?? specimens.find((s) => s.currency)?.currency ?? null;
  const ownCurrency = specimens.filter((s) => s.cost !== null && (s.currency ?? currency) === currency);
  const count = (s: (typeof specimens)[number]) => (s.allowed === null ? mounts : Math.min(mounts, s.allowed));
  const made = specimens.reduce((sum, s) => sum + count(s), 0);
  const hands = (made * said.mount_min) / 60;
  const lines = [
    { what: 'Materials', amount: ownCurrency.reduce((sum, s) => sum + count(s) * (s.cost ?? 0), 0) },
    { what: 'Consumables', amount: made * (said.consumables ?? 0) },
    { what: 'Tools, once', amount: said.tools ?? 0 },
    { what: 'Work', amount: hands * (said.hour_rate ?? 0) },
  ].filter((l) => l.amount > 0);
  return {
    currency,
    lines,
    total: lines.reduce((sum, l) => sum + l.amount, 0),
    unpriced: specimens.filter((s) => s.cost === null).map((s) => s.name),
    other_currency: specimens.filter((s) => s.cost !== null && (s.currency ?? currency) !== currency).map((s) => s.name),
    hands_h: hands,
  };
}

/**
 * About how many bench hours a number of mounts takes: the rigs share the mounts, the closing reference of each block counts, and one
 * tester's hands are the least. The drawn order says it exactly.
 */
export function roughHours({ specimens, said, rigs }: ResolvedPlan, mounts: number): number {
  const count = specimens.reduce((sum, s) => sum + (s.allowed === null ? mounts : Math.min(mounts, s.allowed)), 0) + mounts;
  const rigMinutes = (count * (said.mount_min + said.runs * said.run_min)) / Math.max(1, rigs.length);
  return Math.max(rigMinutes, count * said.mount_min) / 60;
}
