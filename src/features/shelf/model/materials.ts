/** Kinds of thermal interface and cooler a specimen can be, with the mount-to-mount scatter assumed before a lab has its own. */
export const SPECIMEN_KINDS = [
  'paste',
  'pad',
  'phase_change',
  'liquid_metal',
  'graphite',
  'putty',
  'epoxy',
  'solder',
  'cooler',
  'state',
] as const;
export type SpecimenKind = (typeof SPECIMEN_KINDS)[number];

export const KIND_NAMES: Record<SpecimenKind, string> = {
  paste: 'Paste',
  pad: 'Pad',
  phase_change: 'Phase-change sheet',
  liquid_metal: 'Liquid metal',
  graphite: 'Graphite sheet',
  putty: 'Putty',
  epoxy: 'Epoxy',
  solder: 'Solder',
  cooler: 'Cooler',
  state: 'State (before, after)',
};

/** Assumed standard deviation between mounts, K (method, §5). */
export const DEFAULT_MOUNT_SD: Record<SpecimenKind, number> = {
  paste: 0.5,
  pad: 0.8,
  phase_change: 0.3,
  liquid_metal: 1.0,
  graphite: 0.6,
  putty: 0.8,
  epoxy: 0.5,
  solder: 0.5,
  cooler: 0.5,
  state: 0.5,
};
