import { type ReactNode, useEffect, useRef, useState } from 'react';
import type { AnalysisRow } from '#core/compare/rows';
import type { PlannedMount } from '#core/design/orderTypes';
import type { PlanFinding, PlannedComparison } from '#core/design/types';
import { write, writeMargin } from '#core/text/words';
import type { PlanContext } from '#features/study/model/context';
import type { PlanAnswer } from '#features/study/model/planAnswer';
import type { PlanFields } from '#features/study/model/planFields';
import type { RunsSoFar } from '#features/study/model/soFar';
import type { StudyPlan } from '#features/study/model/studyPlan';
import type { PlanView } from '#features/study/server/planView';
import type { PlanDesk } from '#features/study/view/usePlan';
import { findingName } from '#ui/FindingList.tsx';
import { TextButton } from '#ui/Form.tsx';
import { useWorker } from '#ui/useWorker';
import { Section } from '#ui/Words.tsx';
import { CostPanel } from './CostPanel.tsx';
import { HeadroomPanel } from './HeadroomPanel.tsx';
import { LooksPanel } from './LooksPanel.tsx';
import { MountsCurve } from './MountsCurve.tsx';
import { OrderBench } from './OrderBench.tsx';
import { PlanField } from './PlanField.tsx';
import type { PlanApi } from './plan.worker';
import { RehearsalPanel } from './RehearsalPanel.tsx';
import { SetUp } from './SetUp.tsx';
import { SpecimenTable } from './SpecimenTable.tsx';
import { elsewhereWords, loadRules, usePlan } from './usePlan';

const PARTS = [
  { id: 'specimens', name: 'Specimens' },
  { id: 'set-up', name: 'Set-up' },
  { id: 'order', name: 'Schedule' },
  { id: 'rehearsal', name: 'Rehearsal' },
  { id: 'headroom', name: 'Headroom' },
  { id: 'looks', name: 'Looks' },
  { id: 'cost', name: 'Cost' },
];

interface PlanPlaceProps {
  initial: PlanView;
  fields: PlanFields;
  answered: PlanAnswer;
  soFar: RunsSoFar;
}

/** The plan of a study around its curve: how many mounts, which specimens, in which order, at what load. */
export function PlanPlace({ initial, fields, answered, soFar }: PlanPlaceProps) {
  const desk = usePlan(initial, fields, soFar);
  const { resolved, view } = desk;
  const answer = usePlanAnswer(answered, desk.plan, desk.context, view.mounts, soFar.rows);
  const { comparison } = resolved;
  const ready = comparison.specimens >= 2 && answer.points.length > 0;
  const status =
    desk.told ??
    (Object.keys(desk.errors).length > 0
      ? 'Some fields are not stored yet; each says why.'
      : desk.saving
        ? 'Storing …'
        : 'Everything is stored.');
  return (
    <div onFocusCapture={() => void loadRules()}>
      <div className="flex flex-wrap items-baseline justify-between gap-x-6 border-b border-rule pb-2">
        <nav aria-label="Parts of the plan" className="flex flex-wrap gap-x-4 gap-y-1">
          {PARTS.map((p) => (
            <a key={p.id} href={`#${p.id}`} className="py-1 underline decoration-soft">
              {p.name}
            </a>
          ))}
        </nav>
        <p role="status" className={`text-note ${desk.told ? 'font-semibold text-ember' : 'text-soft'}`}>
          {status}
        </p>
      </div>
      {desk.elsewhere.length > 0 && (
        <p role="status" className="mt-2 border-l-4 border-ink pl-3" data-testid="elsewhere">
          Changed by somebody else just now: {elsewhereWords(desk)}.
        </p>
      )}
      <div className="grid grid-cols-[minmax(0,1fr)] gap-x-8 gap-y-6 pt-4 lg:grid-cols-[minmax(0,1fr)_340px]">
        {ready ? (
          <MountsCurve plan={resolved} answer={answer} onMounts={(m) => desk.set('mounts', m)} />
        ) : (
          <div>
            <p className="text-verdict font-semibold leading-tight tracking-tight">Which specimens should be compared?</p>
            <p className="mt-1 mb-3 text-soft">Two at least. With them stands here how many mounts tell them apart.</p>
            <SpecimenTable desk={desk} />
          </div>
        )}
        <Panels desk={desk} comparison={comparison} answer={answer} />
      </div>
      <Part id="specimens" title="Specimens">
        {ready ? <SpecimenTable desk={desk} /> : <p className="text-soft">They are chosen above.</p>}
      </Part>
      <Part id="set-up" title="Set-up">
        <SetUp desk={desk} />
      </Part>
      <Part id="order" title="Schedule">
        <OrderBench desk={desk} />
      </Part>
      <Part id="rehearsal" title="Rehearsal">
        <RehearsalPanel desk={desk} />
      </Part>
      <Part id="headroom" title="Headroom">
        <HeadroomPanel desk={desk} />
      </Part>
      <Part id="looks" title="Looks">
        <LooksPanel desk={desk} levels={answer.looks} state={answer.settled} />
      </Part>
      <Part id="cost" title="Cost">
        <CostPanel desk={desk} />
      </Part>
    </div>
  );
}

const Part = ({ id, title, children }: { id: string; title: string; children: ReactNode }) => (
  <Section id={id} title={title} heading="mb-3 scroll-mt-4 text-title" className="mt-9">
    {children}
  </Section>
);

/** findings shown at once: the gravest stand first */
const SHOWN = 4;

/** Findings of the plan with the nearest plan that would not have them; each leads to its field. */
function PlanFindings({ findings }: { findings: PlanFinding[] }) {
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

/** Answers the plan in a web worker as it changes; an answer that comes after a newer question is dropped. */
function usePlanAnswer(
  initial: PlanAnswer,
  plan: StudyPlan,
  context: PlanContext,
  mounts: PlannedMount[],
  rows: AnalysisRow[],
): PlanAnswer {
  const { ask } = useWorker<PlanApi>('plan');
  const asked = useRef(0);
  const [answer, setAnswer] = useState(initial);
  useEffect(() => {
    const ticket = ++asked.current;
    // the first question was answered by the server
    if (ticket === 1) return;
    ask()
      .answerPlan(plan, context, mounts, rows)
      .then((next) => {
        if (ticket === asked.current) setAnswer(next);
      });
  }, [plan, context, mounts, rows, ask]);
  return answer;
}

/** What stands beside the curve. */
const Panels = ({ desk, comparison, answer }: { desk: PlanDesk; comparison: PlannedComparison; answer: PlanAnswer }) => (
  <div className="flex flex-col gap-5">
    <div className="grid grid-cols-2 gap-x-4 gap-y-3">
      {comparison.unit === undefined ? (
        <PlanField desk={desk} field="margin_k" label="Margin" hint={null} />
      ) : (
        <p>
          <span className="block font-semibold">Margin</span>
          <span className="figure">{writeMargin(comparison.margin)}</span> {comparison.unit}
          <span className="block text-note text-soft">
            <a href="#set-up">as its outcome says</a>
          </span>
        </p>
      )}
      <PlanField desk={desk} field="mounts" hint={null} />
      <PlanField desk={desk} field="power" hint={null} />
      <PlanField desk={desk} field="confidence" hint={null} />
      <PlanField
        desk={desk}
        field="mount_sd"
        label="Mount scatter"
        unit={comparison.unit}
        otherwise={write(comparison.mount_sd, 2)}
        hint={null}
      />
      <PlanField
        desk={desk}
        field="run_sd"
        label="Run scatter"
        unit={comparison.unit}
        otherwise={write(comparison.run_sd, 2)}
        hint={null}
      />
      <div className="col-span-2">
        <PlanField desk={desk} field="family" hint={null} />
      </div>
    </div>
    <Section id="findings" title="Findings">
      <PlanFindings findings={answer.findings} />
    </Section>
  </div>
);
