import type { Finding } from '#core/compare/types';

const NAMES: Record<string, string> = {
  rows_left_out: 'Rows left out',
  stuck_sensor: 'Sensor out of use',
  heat_soaked: 'Heat-soaked',
  near_limit: 'Near the limit',
  r_valid: 'Resistance',
};

/** Name of a finding's code as a person reads it. */
export function findingName(code: string): string {
  return NAMES[code] ?? code.charAt(0).toUpperCase() + code.slice(1).replaceAll('_', ' ');
}

/** Findings as a ledger: what, how grave, and the sentence. */
export function FindingList({ findings }: { findings: Finding[] }) {
  if (findings.length === 0) return <p className="text-soft">No check found anything to say.</p>;
  return (
    <ul>
      {findings.map((f) => (
        <li key={f.code + f.message} className="border-b border-rule py-2">
          <span className={`font-semibold ${f.severity === 'note' ? '' : 'text-ember'}`}>{findingName(f.code)}</span>
          {f.severity === 'reject' && <span className="text-ember"> · not valid</span>}
          {f.severity === 'decide' && <span className="text-ember"> · needs your decision</span>}
          <div>{f.message}</div>
        </li>
      ))}
    </ul>
  );
}
