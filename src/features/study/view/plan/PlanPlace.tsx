import { useEffect, useMemo, useRef, useState } from 'react';
import type { AnalysisRow } from '#core/compare/rows';
import type { PlannedMount, TimedMount } from '#core/design/orderTypes';
import { timeOrder } from '#core/design/timeline';
import { midSentence, sentenceCase, writeMargin } from '#core/text/words';
import type { PlanContext } from '#features/study/model/context';
import { comparedNoun } from '#features/study/model/factors';
import type { PlanAnswer } from '#features/study/model/planAnswer';
import type { PlanFields } from '#features/study/model/planFields';
import { findingsWords, planSentence } from '#features/study/model/planWords';
import type { RunsSoFar } from '#features/study/model/soFar';
import type { StudyPlan } from '#features/study/model/studyPlan';
import type { PlanView } from '#features/study/server/planView';
import { Contents } from '#ui/Contents.tsx';
import { TextButton } from '#ui/Form.tsx';
import { useWorker } from '#ui/useWorker';
import { Section } from '#ui/Words.tsx';
import { ComparedList } from './ComparedList.tsx';
import { fieldName } from './fieldName';
import { MountsCurve } from './MountsCurve.tsx';
import { OrderBench } from './OrderBench.tsx';
import { PlanField } from './PlanField.tsx';
import { PlanFindings } from './PlanFindings.tsx';
import { PlanSection } from './PlanSection.tsx';
import type { PlanApi } from './plan.worker';
import { SetUp } from './SetUp.tsx';
import { elsewhereWords, loadRules, type PlanDesk, usePlan } from './usePlan';

interface PlanPlaceProps {
  initial: PlanView;
  fields: PlanFields;
  answered: PlanAnswer;
  soFar: RunsSoFar;
}

/** The plan of a study: its question, one sentence, the curve of its mounts, what is compared and when; all else in sections below. */
export function PlanPlace({ initial, fields, answered, soFar }: PlanPlaceProps) {
  const desk = usePlan(initial, fields, soFar);
  const { resolved, view } = desk;
  const answer = usePlanAnswer(answered, desk.plan, desk.context, view.mounts, soFar.rows);
  const timed = useMemo(() => (resolved.order ? timeOrder(resolved.order, view.mounts) : []), [resolved.order, view.mounts]);
  const noun = comparedNoun(resolved.said);
  const ready = resolved.comparison.specimens >= 2 && answer.points.length > 0;
  return (
    <div onFocusCapture={() => void loadRules()}>
      <PlanSummary desk={desk} timed={timed} />
      <Contents aside={<PlanState desk={desk} answer={answer} />} />
      {desk.elsewhere.length > 0 && (
        <p role="status" className="mt-2 border-l-4 border-ink pl-3" data-testid="elsewhere">
          Changed by somebody else just now: {elsewhereWords(desk)}.
        </p>
      )}
      <div className="grid grid-cols-[minmax(0,1fr)] gap-x-8 gap-y-6 pt-4 lg:grid-cols-[minmax(0,1fr)_320px]">
        <section aria-labelledby="mounts" className="min-w-0">
          <h2 id="mounts" className="sr-only scroll-mt-16">
            Mounts
          </h2>
          {ready ? (
            <MountsCurve plan={resolved} answer={answer} onMounts={(m) => desk.set('mounts', m)} />
          ) : (
            <div>
              <p className="text-verdict font-semibold leading-tight tracking-tight">Which {noun}s should be compared?</p>
              <p className="mt-1 text-soft">
                Add at least two <a href="#compared">below</a>; then this curve shows how many mounts it takes to find a difference between
                them.
              </p>
            </div>
          )}
        </section>
        <div className="flex flex-col gap-5">
          <Essentials desk={desk} />
          <Section id="findings" title="Findings">
            <PlanFindings findings={answer.findings} desk={desk} />
          </Section>
        </div>
      </div>
      <Section id="compared" title={`${sentenceCase(noun)}s compared`} heading="mb-1 scroll-mt-16 text-title" className="mt-8">
        <ComparedList desk={desk} />
      </Section>
      <Section id="schedule" title="Schedule" heading="mb-1 scroll-mt-16 text-title" className="mt-8">
        <OrderBench desk={desk} timed={timed} />
      </Section>
      <SetUp desk={desk} answer={answer} />
    </div>
  );
}

/** The question, and the whole plan in a sentence whose phrases lead to where they are set. */
function PlanSummary({ desk, timed }: { desk: PlanDesk; timed: TimedMount[] }) {
  const { resolved, plan } = desk;
  const question = plan.question?.trim();
  return (
    <div className="mt-2">
      <PlanSection
        id="question"
        title="Question"
        state={<span className={question ? 'text-ink' : ''}>{question || 'not written yet'}</span>}
      >
        <div className="grid gap-x-6 gap-y-3 md:grid-cols-3">
          <PlanField desk={desk} field="title" />
          <PlanField desk={desk} field="varies" />
          <PlanField desk={desk} field="design" />
          {resolved.said.design === 'two_by_two' && <PlanField desk={desk} field="second_factor" />}
          <div className="md:col-span-3">
            <PlanField desk={desk} field="question" />
          </div>
        </div>
      </PlanSection>
      <p className="border-t border-rule py-2.5 text-name leading-relaxed" data-testid="plan-sentence">
        {planSentence(resolved, timed).map(({ text, opens }) =>
          opens ? (
            <a key={text} href={`#${opens}`} className="decoration-soft underline-offset-4">
              {text}
            </a>
          ) : (
            text
          ),
        )}
      </p>
    </div>
  );
}

/** What stays in sight: how many findings stand against the plan, and whether what was typed is stored. */
function PlanState({ desk, answer }: { desk: PlanDesk; answer: PlanAnswer }) {
  const words = findingsWords(answer.findings);
  const isGrave = answer.findings.some((f) => f.severity !== 'note');
  const status =
    desk.told ??
    (Object.keys(desk.errors).length > 0
      ? 'Some fields are not stored yet; each says why.'
      : desk.saving
        ? 'Storing …'
        : 'Everything is stored.');
  return (
    <>
      {words && (
        <a href="#findings" className={`px-2 py-1.5 ${isGrave ? 'font-semibold text-ember' : ''}`}>
          {words}
        </a>
      )}
      {desk.last && (
        <TextButton className="px-2 py-1.5" onClick={desk.undo}>
          Undo {midSentence(fieldName(desk.last.field, desk.context, desk.fields))}
        </TextButton>
      )}
      <span role="status" className={`px-2 py-1.5 ${desk.told ? 'font-semibold text-ember' : 'text-soft'}`}>
        {status}
      </span>
    </>
  );
}

/** The two figures that decide a plan. */
function Essentials({ desk }: { desk: PlanDesk }) {
  const { comparison } = desk.resolved;
  return (
    <div className="grid grid-cols-2 items-end gap-x-4 gap-y-3">
      {comparison.unit === undefined ? (
        <PlanField desk={desk} field="margin_k" hint={null} />
      ) : (
        <p>
          <span className="block font-semibold">Smallest difference that matters</span>
          <span className="figure">{writeMargin(comparison.margin)}</span> {comparison.unit}
          <span className="block text-note text-soft">
            <a href="#outcomes">set with its outcome</a>
          </span>
        </p>
      )}
      <PlanField desk={desk} field="mounts" hint={null} />
    </div>
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
