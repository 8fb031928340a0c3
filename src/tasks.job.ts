import { exchangeTasks } from '#features/exchange/server/tasks';
import { liveTasks } from '#features/live/server/tasks';
import { rankingTasks } from '#features/ranking/server/tasks';
import { resultsTasks } from '#features/results/server/tasks';
import { runTasks } from '#features/run/server/tasks';
import { studyTasks } from '#features/study/server/tasks';

/** Entry of a worker thread: all that computes long on the server, by name. */
const tasks: Record<string, (job: never) => unknown> = {
  ...{ ...studyTasks, ...runTasks, ...liveTasks, ...resultsTasks, ...rankingTasks, ...exchangeTasks },
};

export default ({ task, job }: { task: string; job: never }) => tasks[task](job);
