/** Pressure of a cooler on its part, kPa: classes a factor of about three wide, as a bond line answers to no finer step. */
export const PRESSURE_CLASSES = {
  slight: { name: 'under 30 kPa', from: 0, to: 30 },
  light: { name: '30 to 100 kPa', from: 30, to: 100 },
  medium: { name: '100 to 300 kPa', from: 100, to: 300 },
  firm: { name: '300 to 1000 kPa', from: 300, to: 1000 },
  hard: { name: 'above 1000 kPa', from: 1000, to: Number.POSITIVE_INFINITY },
} as const;
export type PressureClass = keyof typeof PRESSURE_CLASSES;

const ORDER = Object.keys(PRESSURE_CLASSES) as PressureClass[];

/** The class of a pressure; null where it is not known. */
export const pressureClass = (kpa: number | null | undefined): PressureClass | null =>
  kpa == null || !(kpa > 0) ? null : (ORDER.find((c) => kpa < PRESSURE_CLASSES[c].to) ?? 'hard');

/** Steps between two classes. */
export const classesApart = (a: PressureClass, b: PressureClass): number => Math.abs(ORDER.indexOf(a) - ORDER.indexOf(b));
