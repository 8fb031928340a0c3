import { inThreads } from '#app/jobs';
import { drawOrder } from '#core/design/order';
import type { OrderPlan } from '#core/design/orderTypes';

export const studyTasks = {
  drawMounts: ({ plan, seed }: { plan: OrderPlan; seed: number }) => drawOrder(plan, seed),
};
export const studyThreads = inThreads(studyTasks);
