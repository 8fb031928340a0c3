/** A heading of plan, results or run, and what stands under it. */
export interface Heading {
  /** as it stands on the page; {} for a name in it */
  heading: string;
  line: string;
}

/** What stands under each heading of a plan, of results and of a run. */
export const HEADINGS: Heading[] = [
  // plan
  { heading: 'Question', line: 'What the reader should know at the end, what varies, and the design.' },
  { heading: 'Mounts', line: 'How small a difference each number of mounts finds, and what it costs.' },
  { heading: 'Findings', line: 'What the checks found, the gravest first, each with what to do.' },
  { heading: '{}s compared', line: 'What the study compares, which one is the reference, and how many mounts of each.' },
  { heading: 'Schedule', line: 'The mounts on their days; filled marks are done.' },
  { heading: 'Bench time', line: 'Rigs, working days and how long a mount and a run take.' },
  { heading: 'Order of mounts', line: 'Which mount comes when, drawn at random and changed by hand.' },
  { heading: 'Measurement', line: 'How the values are measured.' },
  { heading: 'Controlled conditions', line: 'Everything that is the same for all that is compared.' },
  { heading: 'Loads', line: 'The programs that are run, with their steps; each load is compared separately.' },
  { heading: 'Outcomes', line: 'What is judged besides ΔT, each with the smallest difference that matters.' },
  { heading: 'Methods', line: 'How a temperature is taken from a run, and how scatter enters the intervals.' },
  { heading: 'Sound', line: 'Background noise, distance and room of the sound readings.' },
  { heading: 'Fit', line: 'What the enclosure allows in height and mass.' },
  { heading: 'Limits of single parts', line: 'Limits of parts under one cooler; the part nearest to its limit decides.' },
  { heading: 'Ageing', line: 'Ages at which each mount is measured again.' },
  { heading: 'Acceptance', line: 'Limits of the room, the power and the fan within which a run is comparable.' },
  { heading: 'Statistics', line: 'What the intervals and the power rest on.' },
  { heading: 'Power and scatter', line: 'Power, confidence, and the scatter that the curve is computed with.' },
  { heading: 'Expected of each {}', line: 'Expected values, waits and differences of each; the rehearsal uses them.' },
  { heading: 'Rehearsal', line: 'The whole study simulated many times: how often its verdicts would be right.' },
  { heading: 'Interim analyses', line: 'Planned analyses before the end, with the limits that keep the error rate.' },
  { heading: 'Limit and cost', line: 'What the device allows and what the study costs.' },
  { heading: 'Headroom', line: 'The highest load at which the worst one stays below the limit in the warmest room.' },
  { heading: 'Cost', line: 'Material, work and tools of the study, and an alternative for the same money.' },
  // results
  { heading: 'Against {}', line: 'The verdict of every other one against the reference, each with its interval.' },
  { heading: 'Verdicts', line: 'The verdict of every pair.' },
  { heading: 'Scatter', line: 'How much mounts and runs scatter, and which method the verdicts use.' },
  { heading: 'Recommendation', line: 'What each kind of reader should choose, tied to the verdicts behind it.' },
  { heading: 'Mounts behind the verdicts', line: 'Every mount with its value; choose one to see its runs or to leave it out.' },
  { heading: 'Pairs', line: 'The difference of every pair with its interval, as a matrix or a table.' },
  { heading: 'Price and effort', line: 'What each costs, and what is gained for the money and the time.' },
  { heading: 'The reference over the days', line: 'Whether the bench drifted, by the mounts of the reference.' },
  { heading: 'Uncertainty of ΔT', line: 'How sure the absolute values are, source by source.' },
  { heading: 'Parts and their limits', line: 'How far each part stays below its own limit.' },
  { heading: 'By rank', line: 'Pairs of which some mounts have only a bound, compared by rank.' },
  { heading: 'Ladder by mount', line: 'Which steps of clock and voltage each mount passed.' },
  { heading: 'Before and after', line: 'What changed between two states, with the clock and power behind it.' },
  { heading: 'What changes compared with the settings of the study', line: 'Which verdicts differ under the choices made above.' },
  { heading: '{} need your decision', line: 'Runs that are left out until a person decides.' },
  { heading: '{} needs your decision', line: 'A run that is left out until a person decides.' },
  { heading: 'From load to load', line: 'Whether the gain depends on the load.' },
  { heading: 'From rig to rig', line: 'Whether the gain depends on the rig.' },
  { heading: 'Of how the mounts were made', line: 'What the records of the mounts show.' },
  // run
  { heading: 'Readings as entered', line: 'What was read from the display.' },
  { heading: 'Stages and sensors', line: 'The stages of the run and what each sensor read in the averaging window.' },
  { heading: 'Value by method', line: 'The value of the run by each way of taking it.' },
  { heading: 'Performance', line: 'Score, run time and frames of the load.' },
  { heading: 'Other measurements', line: 'Power, fan, noise, exhaust and room during the window.' },
];

/** What stands under a heading; null where the help does not know it. */
export function headingHelp(text: string): Heading | null {
  const words = text.trim().replace(/\s+/g, ' ');
  return HEADINGS.find(({ heading }) => asPattern(heading).test(words)) ?? null;
}

const asPattern = (heading: string): RegExp =>
  new RegExp(
    `^${heading
      .split('{}')
      .map((p) => p.replace(/[.*+?^${}()|[\]\\]/g, '\\$&'))
      .join('.+')}$`,
    'i',
  );
