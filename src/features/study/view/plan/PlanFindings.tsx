import { useState } from 'react';
import type { PlanFinding } from '#core/design/types';
import { FindingName } from '#ui/FindingList.tsx';
import { TextButton } from '#ui/Form.tsx';
import { sectionOf } from './sections';
import type { PlanDesk } from './usePlan';

/** findings shown at once: the gravest stand first */
const SHOWN = 4;

/** What stands against the plan, with the nearest plan that would not have it; each leads to where it is mended. */
export function PlanFindings({ findings, desk }: { findings: PlanFinding[]; desk: PlanDesk }) {
  const [all, setAll] = useState(false);
  const shown = all ? findings : findings.slice(0, SHOWN);
  if (findings.length === 0) return <p className="text-soft">No check found anything against this plan.</p>;
  return (
    <ul data-testid="plan-findings">
      {shown.map((f) => {
        const section = f.field ? sectionOf(f.field, desk.fields) : null;
        return (
          <li key={f.code + f.message} className="border-b border-rule py-2">
            <FindingName finding={f} />
            {f.severity === 'reject' && <span className="text-ember"> · not possible</span>}
            <div>{f.message}</div>
            {f.nearest && (
              <div className="mt-0.5 flex gap-1.5">
                <span aria-hidden="true">→</span>
                {section ? (
                  <a className="font-semibold decoration-soft" href={`#${section}`}>
                    {f.nearest}
                  </a>
                ) : (
                  <span className="font-semibold">{f.nearest}</span>
                )}
              </div>
            )}
          </li>
        );
      })}
      {findings.length > shown.length && (
        <li className="py-2">
          <TextButton onClick={() => setAll(true)}>Show {findings.length - shown.length} more</TextButton>
        </li>
      )}
    </ul>
  );
}
