import { defineConfig } from 'vitest/config';
import { PATIENCE_MS, TEST_MS } from './tests/patience';

const unit = ['src/**/*.test.ts', 'benchmarks/**/*.test.ts', 'tests/cli/**/*.test.ts', 'tests/links/**/*.test.ts'];
/** Followed in time: a bench sixty times as fast as a real one is answered in time only where nothing else holds both cores. */
const live = [
  'tests/browser/live.test.ts',
  ...['live', 'liveCrash', 'liveWays', 'loadWatch', 'loadWatchAgain'].map((name) => `tests/db/${name}.test.ts`),
];
/** Takes the processors' time by the share that was asked for. */
const load = ['tests/cli/agentLoad.test.ts'];
/** Holds a power by the little time of the processors that it takes. */
const measure = ['tests/browser/measure.test.ts'];
const followed = [...live, ...load, ...measure];
/** Files share what they import, compiled and warm: half the time of a process for each. */
const ONE_FOR_ALL = { isolate: false, setupFiles: ['tests/ownEnvironment.ts'] };
const PATIENT = { testTimeout: TEST_MS, hookTimeout: TEST_MS, expect: { poll: { timeout: PATIENCE_MS, interval: 100 } } };

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          ...ONE_FOR_ALL,
          name: 'unit',
          include: unit,
          exclude: followed,
          environment: 'node',
          maxWorkers: 2,
          setupFiles: ['tests/propertySeed.ts', 'tests/ownEnvironment.ts'],
          testTimeout: TEST_MS,
        },
      },
      {
        test: {
          ...ONE_FOR_ALL,
          name: 'db',
          include: ['tests/db/**/*.test.ts'],
          exclude: followed,
          fileParallelism: false,
          testTimeout: TEST_MS,
          hookTimeout: TEST_MS,
        },
      },
      ...Object.entries({ live, load, measure }).map(([name, include]) => ({
        test: { name, include, fileParallelism: false, ...PATIENT },
      })),
      // each file has an application, a store and a browser of its own, and waits more than it works
      {
        test: {
          ...ONE_FOR_ALL,
          name: 'browser',
          include: ['tests/browser/**/*.test.ts'],
          exclude: followed,
          globalSetup: ['tests/demoStore.ts'],
          maxWorkers: 2,
          ...PATIENT,
        },
      },
    ],
  },
});
