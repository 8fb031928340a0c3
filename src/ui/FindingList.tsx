import type { Finding } from '#core/compare/types';

const NAMES: Record<string, string> = {
  rows_left_out: 'Rows left out',
  stuck_sensor: 'Sensor out of use',
  heat_soaked: 'Heat-soaked',
  near_limit: 'Near the limit',
  r_valid: 'Resistance',
  ambient_dead: 'Room probe without readings',
  ambient_frozen: 'Room probe frozen',
  ambient_disagree: 'Room probes disagree',
  ambient_gaps: 'Room not read for a while',
  ambient_in_airflow: 'Room probe in warmed air',
  ambient_on_part: 'Room probe on the part',
  ambient_typed: 'One value for the room',
  rise_impossible: 'Impossible rise',
  unit_suspect: 'Unit in doubt',
  unit_guessed: 'Unit guessed',
  sensors_differ: 'Other sensors than before',
  clock_step: 'Clock stepped back',
  clock_change: 'Summer or winter time',
  time_coarse: 'Coarse clock',
  column_unused: 'Columns not used',
  interface_not_told: 'Interface not recorded',
  window_widened: 'Longer averaging window',
};

/** Name of a finding's code as a person reads it. */
export const findingName = (code: string): string => NAMES[code] ?? code.charAt(0).toUpperCase() + code.slice(1).replaceAll('_', ' ');

/** The name of a finding, which leads to its cause and remedy in the help. */
export const FindingName = ({ finding: { code, severity } }: { finding: Pick<Finding, 'code' | 'severity'> }) => (
  <a href={`/help#finding-${code}`} className={`font-semibold no-underline hover:underline ${severity === 'note' ? '' : 'text-ember'}`}>
    {findingName(code)}
  </a>
);

/** Findings as a ledger: what, how grave, and the sentence. */
export function FindingList({ findings }: { findings: Finding[] }) {
  if (findings.length === 0) return <p className="text-soft">No check found anything to say.</p>;
  return (
    <ul>
      {findings.map((f) => (
        <li key={f.code + f.message} className="border-b border-rule py-2">
          <FindingName finding={f} />
          {f.severity === 'reject' && <span className="text-ember"> · not valid</span>}
          {f.severity === 'decide' && <span className="text-ember"> · needs your decision</span>}
          <div>{f.message}</div>
        </li>
      ))}
    </ul>
  );
}
