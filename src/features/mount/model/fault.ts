export const FAULTS = {
  part_vanished: 'A part vanished: memory, a device',
  crash: 'Crash',
  freeze_when_moved: 'Freezes when it is moved',
  leak: 'Leaked',
  other: 'Something else',
} as const;
export type FaultKind = keyof typeof FAULTS;

/** What is asked for before a fault counts as settled. */
export const FAULT_CHECKS = {
  inspected_at: 'Inspected under magnification: contact, solder, traces of liquid metal',
  moved_at: 'Moved and pressed after the repair, and the fault did not come back',
} as const;
export type FaultCheck = keyof typeof FAULT_CHECKS;
