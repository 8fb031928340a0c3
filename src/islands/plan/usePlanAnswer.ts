import { type Remote, wrap } from 'comlink';
import { useEffect, useRef, useState } from 'react';
import type { PlannedMount } from '#core/plan/orderTypes';
import type { PlanAnswer } from '#domain/plan/answer';
import type { PlanContext } from '#domain/plan/context';
import type { StudyPlan } from '#domain/plan/studyPlan';
import type { PlanApi } from '../../workers/plan.worker.ts';

/** Answers the plan in a web worker as it changes; an answer that comes after a newer question is dropped. */
export function usePlanAnswer(initial: PlanAnswer, plan: StudyPlan, context: PlanContext, mounts: PlannedMount[]): PlanAnswer {
  const worker = useRef<{ raw: Worker; api: Remote<PlanApi> } | null>(null);
  const asked = useRef(0);
  const [answer, setAnswer] = useState(initial);
  useEffect(() => () => worker.current?.raw.terminate(), []);
  useEffect(() => {
    const ticket = ++asked.current;
    // the first question was answered by the server
    if (ticket === 1) return;
    if (!worker.current) {
      const raw = new Worker(new URL('../../workers/plan.worker.ts', import.meta.url), { type: 'module' });
      worker.current = { raw, api: wrap<PlanApi>(raw) };
    }
    worker.current.api.answerPlan(plan, context, mounts).then((next) => {
      if (ticket === asked.current) setAnswer(next);
    });
  }, [plan, context, mounts]);
  return answer;
}
