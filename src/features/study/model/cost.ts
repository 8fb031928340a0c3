import type { ResolvedPlan, ResolvedSpecimen } from './resolve';

/** What one specimen, or state of a device, costs. Money is in the study's currency. */
export interface StateCost {
  specimen: string;
  position: number;
  id: number;
  mounts: number;
  /** material of one mount; null where it has no price, or one in another currency */
  material: number | null;
  /** the one piece of a material that serves all mounts; 0 where each mount takes its own */
  piece: number;
  /** one mount with material, consumables and work */
  a_mount: number;
  /** tools, effort and a piece that serves again: what it alone needs, once */
  once: number;
  /** all its mounts, and what it needs once */
  total: number;
  /** times it is renewed in the years of the plan after its first mount; null where the plan states none */
  renewals: number | null;
  /** one that is in use for the years of the plan, with its renewals and what it needs once; null where the plan states none */
  over_years: number | null;
}

interface StudyCost {
  /** null where nothing is priced */
  currency: string | null;
  states: StateCost[];
  lines: { what: string; amount: number }[];
  total: number;
  /** specimens whose material has no price */
  unpriced: string[];
  /** specimens priced in another currency, left out of the sum */
  other_currency: string[];
  hands_h: number;
}

/** Money and hands-on hours of a plan with a number of mounts per specimen, by specimen and in all. */
export function studyCost(plan: ResolvedPlan, mounts: number): StudyCost {
  const { specimens, said } = plan;
  const currency =
    said.currency ??
    specimens.find((s) => s.currency)?.currency ??
    specimens.find((s) => s.cooler?.sheet.currency)?.cooler?.sheet.currency ??
    null;
  const other = (s: ResolvedSpecimen) => s.cost !== null && (s.currency ?? currency) !== currency;
  const hour = said.hour_rate ?? 0;
  const states = specimens.map((s): StateCost => {
    const count = countOf(s, mounts);
    const piece = s.cost === null || other(s) ? null : s.cost;
    // a cooler is bought once, whatever is tested on it
    const bought = coolerPrice(s, currency);
    // a piece that serves again is bought once
    const reused = piece !== null && s.material?.sheet.reusable === true;
    const material = reused ? 0 : piece;
    const mount = (material ?? 0) + (said.consumables ?? 0) + (said.mount_min / 60) * hour;
    const once = (reused ? piece : 0) + bought + (s.plan.tools ?? 0) + ((s.plan.effort_min ?? 0) / 60) * hour;
    const renewals = said.years == null ? null : renewalsIn(said.years, s.plan.renew_months ?? s.material?.sheet.renew_months ?? null);
    return {
      specimen: s.name,
      position: s.position,
      id: s.id,
      mounts: count,
      material,
      piece: reused ? (piece ?? 0) : 0,
      a_mount: mount,
      once,
      total: count * mount + once,
      renewals,
      over_years: renewals === null ? null : once + (1 + renewals) * mount,
    };
  });
  const made = states.reduce((sum, s) => sum + s.mounts, 0);
  const hands = (made * said.mount_min + specimens.reduce((sum, s) => sum + (s.plan.effort_min ?? 0), 0)) / 60;
  const lines = [
    { what: 'Materials', amount: states.reduce((sum, s) => sum + s.piece + s.mounts * (s.material ?? 0), 0) },
    { what: 'Coolers, once', amount: specimens.reduce((sum, s) => sum + coolerPrice(s, currency), 0) },
    { what: 'Consumables', amount: made * (said.consumables ?? 0) },
    { what: 'Tools, once', amount: (said.tools ?? 0) + specimens.reduce((sum, s) => sum + (s.plan.tools ?? 0), 0) },
    { what: 'Work', amount: hands * hour },
  ].filter((l) => l.amount > 0);
  return {
    ...{ currency, states, lines },
    total: lines.reduce((sum, l) => sum + l.amount, 0),
    unpriced: specimens.filter((s) => s.cost === null && s.kind !== 'state' && coolerPrice(s, currency) === 0).map((s) => s.name),
    other_currency: specimens.filter(other).map((s) => s.name),
    hands_h: hands,
  };
}

/** Price of the cooler that a specimen brings with it, in the study's currency; 0 where none is known. */
const coolerPrice = ({ cooler }: ResolvedSpecimen, currency: string | null): number =>
  cooler?.sheet.price != null && (cooler.sheet.currency ?? currency) === currency ? cooler.sheet.price : 0;

/** How often something is renewed in some years, beside its first mount; never where it lasts. */
const renewalsIn = (years: number, months: number | null): number =>
  months === null ? 0 : Math.max(0, Math.ceil((12 * years) / months - 1e-9) - 1);

/** Mounts that stock and coupons allow of a wanted number. */
const countOf = (s: ResolvedSpecimen, mounts: number): number => (s.allowed === null ? mounts : Math.min(mounts, s.allowed));

/**
 * About how many bench hours a number of mounts takes: the rigs share the mounts, and one tester's hands are the least. Days that are
 * bracketed take more; the drawn order says it exactly.
 */
export function roughHours({ specimens, said, rigs }: ResolvedPlan, mounts: number): number {
  const count = specimens.reduce((sum, s) => sum + countOf(s, mounts), 0);
  const rigMinutes = (count * (said.mount_min + said.runs * said.run_min)) / Math.max(1, rigs.length);
  return Math.max(rigMinutes, count * said.mount_min) / 60;
}
