import { useState } from 'react';
import type { PlanFinding } from '#core/design/types';
import { TextButton } from '#ui/Button.tsx';
import { findingName } from '#ui/FindingList.tsx';

/** findings shown at once: the gravest stand first */
const SHOWN = 4;

/** Findings of the plan with the nearest plan that would not have them; each leads to its field. */
export function PlanFindings({ findings }: { findings: PlanFinding[] }) {
  const [all, setAll] = useState(false);
  const shown = all ? findings : findings.slice(0, SHOWN);
  if (findings.length === 0) return <p className="text-soft">Nothing stands against this plan.</p>;
  return (
    <ul data-testid="plan-findings">
      {shown.map((f) => (
        <li key={f.code + f.message} className="border-b border-rule py-2">
          <span className={`font-semibold ${f.severity === 'note' ? '' : 'text-ember'}`}>{findingName(f.code)}</span>
          {f.severity === 'reject' && <span className="text-ember"> · not possible</span>}
          <div>{f.message}</div>
          {f.nearest && (
            <div className="mt-0.5 flex gap-1.5">
              <span aria-hidden="true">→</span>
              <span className="font-semibold">{f.nearest}</span>
            </div>
          )}
        </li>
      ))}
      {findings.length > shown.length && (
        <li className="py-2">
          <TextButton onClick={() => setAll(true)}>{findings.length - shown.length} more</TextButton>
        </li>
      )}
    </ul>
  );
}
