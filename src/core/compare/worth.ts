/** A specimen with what it costs and how it reads; lower is better in both. */
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
 * @returns in the order given; gains are null where the reference has no price
 */
export function worthOf(specimens: PricedSpecimen[], reference: string | null): Worth[] {
  const base = specimens.find((s) => s.specimen === reference) ?? null;
  return specimens.map((s) => {
    const gain = base ? base.value - s.value : 0;
    const extra = base ? s.cost - base.cost : 0;
    const beaten = specimens.some((o) => o !== s && o.cost <= s.cost && o.value <= s.value && (o.cost < s.cost || o.value < s.value));
    return { ...s, gain, extra_cost: extra, gain_per_money: gain > 0 && extra > 0 ? gain / extra : null, efficient: !beaten };
  });
}
