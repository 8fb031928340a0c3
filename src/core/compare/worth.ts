/** A specimen with what it costs and how it reads. */
interface PricedSpecimen {
  specimen: string;
  cost: number;
  value: number;
}

export interface Worth extends PricedSpecimen {
  /** gain over the reference per unit of money more than it; null where it does not cost more, or gains nothing */
  gain_per_money: number | null;
  gain: number;
  extra_cost: number;
  /** nothing else is at least as good and as cheap, and better in one of them */
  efficient: boolean;
}

/**
 * What a gain costs: each specimen against the reference, and the efficient set, beyond which more gain costs more money.
 * @param better which values are better
 * @returns in the order given; gains are 0 where the reference has no price
 */
export function worthOf(specimens: PricedSpecimen[], reference: string | null, better: 'lower' | 'higher' = 'lower'): Worth[] {
  // where nothing is priced nothing is worth more than another
  if (specimens.every((s) => s.cost === 0)) return [];
  const base = specimens.find((s) => s.specimen === reference) ?? null;
  const sign = better === 'lower' ? 1 : -1;
  return specimens.map((s) => {
    const gain = !base ? 0 : better === 'lower' ? base.value - s.value : s.value - base.value;
    const extra = base ? s.cost - base.cost : 0;
    const least = (o: PricedSpecimen) => sign * o.value;
    const beaten = specimens.some((o) => o !== s && o.cost <= s.cost && least(o) <= least(s) && (o.cost < s.cost || least(o) < least(s)));
    return { ...s, gain, extra_cost: extra, gain_per_money: gain > 0 && extra > 0 ? gain / extra : null, efficient: !beaten };
  });
}
