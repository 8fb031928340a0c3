import { inThreads } from '#app/jobs';
import type { CourseSoFar } from '#core/live/courseSoFar';
import { type ForecastOptions, forecastSteady } from '#core/live/forecast';

export const liveTasks = {
  forecast: ({ t, rise, power, options }: CourseSoFar & { options: ForecastOptions }) => forecastSteady(t, rise, power, options),
};
export const liveThreads = inThreads(liveTasks);
