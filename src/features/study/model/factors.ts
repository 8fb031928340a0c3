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
