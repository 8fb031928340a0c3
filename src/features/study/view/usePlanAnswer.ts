import { useEffect, useRef, useState } from 'react';
import type { AnalysisRow } from '#core/compare/rows';
import type { PlannedMount } from '#core/design/orderTypes';
import type { PlanContext } from '#features/study/model/context';
import type { PlanAnswer } from '#features/study/model/planAnswer';
import type { StudyPlan } from '#features/study/model/studyPlan';
import { useWorker } from '#ui/useWorker';
import type { PlanApi } from './plan.worker';

/** Answers the plan in a web worker as it changes; an answer that comes after a newer question is dropped. */
export function usePlanAnswer(initial: PlanAnswer, plan: StudyPlan, context: PlanContext, mounts: PlannedMount[], rows: AnalysisRow[]): PlanAnswer {
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
