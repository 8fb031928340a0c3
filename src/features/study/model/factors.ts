/** Factors a study can vary; what else differs between its specimens is told as a finding. */
export const FACTORS = {
  material: 'Material',
  cooler: 'Cooler',
  fan: 'Fan',
  amount: 'Amount or pattern',
  torque: 'Pressure or torque',
  surface: 'Lid, die or base',
  state: 'State of one device',
  setting: 'Setting or load',
} as const;

export type Factor = keyof typeof FACTORS;

/** What one of the compared things is called, by what varies between them. */
const ONE: Record<Factor, string> = {
  material: 'material',
  cooler: 'cooler',
  fan: 'fan',
  amount: 'method',
  torque: 'method',
  surface: 'surface',
  state: 'state',
  setting: 'setting',
};

/**
 * What the things that a study compares are called: a study of materials says "material", of coolers "cooler"; of two factors at once
 * "combination".
 */
export const comparedNoun = (plan: { varies?: Factor | null; design?: string | null }): string =>
  plan.design === 'two_by_two' ? 'combination' : ONE[plan.varies ?? 'material'];
