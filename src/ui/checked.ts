/**
 * What is claimed around the comparison and was held against planted truths: one table of docs/calibration.md each, to which its places
 * link.
 */
export const CHECKED = {
  verdicts: 'Calibration of the verdicts',
  layers: 'Layers of a step',
  live: 'End of a live run',
  ageing: 'Conditioned, and change with age',
  print: 'Cover of a print',
  coolers: 'Heatsinks, fans and where one overtakes the other',
  conductivity: 'Conductivity from several thicknesses',
  events: 'Time to an event',
  budget: 'Uncertainty budget',
  differences: 'Differences of differences',
  chances: 'Chances',
  mounts: 'More mounts',
  rehearsal: 'Rehearsal',
  ranking: 'Ranking over all studies',
} as const;
export type Checked = keyof typeof CHECKED;

/** Address of a table on the page that shows them: the heading, as headings are turned into marks. */
export const checkedAddress = (subject: Checked): string =>
  `/checked#${CHECKED[subject]
    .toLowerCase()
    .replace(/[^a-z ]/g, '')
    .replaceAll(' ', '-')}`;
