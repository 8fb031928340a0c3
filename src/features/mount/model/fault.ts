export const FAULTS = {
  part_vanished: 'A part is no longer detected',
  crash: 'Crash',
  freeze_when_moved: 'Fails when moved or pressed',
  leak: 'Leak',
  other: 'Another fault',
} as const;
export type FaultKind = keyof typeof FAULTS;

/** What is asked for before a fault counts as settled. */
export const FAULT_CHECKS = {
  inspected_at: 'Inspected under magnification: contacts, solder joints, residue',
  moved_at: 'Moved and pressed after the repair; the fault did not recur',
} as const;
export type FaultCheck = keyof typeof FAULT_CHECKS;
