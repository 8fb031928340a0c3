import { type Remote, wrap } from 'comlink';
import { useEffect, useRef, useState } from 'react';
import type { AnalysisRow } from '#core/compare/rows';
import type { PlannedMount } from '#core/design/orderTypes';
import type { PlanContext } from '#features/study/model/context';
import type { PlanAnswer } from '#features/study/model/planAnswer';
import type { StudyPlan } from '#features/study/model/studyPlan';
import type { PlanApi } from './plan.worker';

/** Answers the plan in a web worker as it changes; an answer that comes after a newer question is dropped. */
export function usePlanAnswer(initial: PlanAnswer, plan: StudyPlan, context: PlanContext, mounts: PlannedMount[], rows: AnalysisRow[]): PlanAnswer {
  const worker = useRef<{ raw: Worker; api: Remote<PlanApi> } | null>(null);
  const asked = useRef(0);
  const [answer, setAnswer] = useState(initial);
  useEffect(() => () => worker.current?.raw.terminate(), []);
  useEffect(() => {
    const ticket = ++asked.current;
    // the first question was answered by the server
    if (ticket === 1) return;
    if (!worker.current) {
      const raw = new Worker(new URL('./plan.worker.ts', import.meta.url), { type: 'module' });
      worker.current = { raw, api: wrap<PlanApi>(raw) };
    }
    worker.current.api.answerPlan(plan, context, mounts, rows).then((next) => {
      if (ticket === asked.current) setAnswer(next);
    });
  }, [plan, context, mounts, rows]);
  return answer;
}
