import type { StudyFacts } from './facts';

/** Sensors and parts that a run of the study has a rise of, in the order they were first met. */
export const sensorNames = ({ runs }: Pick<StudyFacts, 'runs'>): string[] => [
  ...new Set(runs.flatMap((r) => Object.keys(r.sensors ?? {}))),
];
