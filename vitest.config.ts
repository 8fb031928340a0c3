import { defineConfig } from 'vitest/config';
import { PATIENCE_MS, TEST_MS } from './tests/patience';

const unit = ['src/**/*.test.ts', 'benchmarks/**/*.test.ts', 'tests/cli/**/*.test.ts', 'tests/links/**/*.test.ts'];
/** Followed in time: a bench sixty times as fast as a real one is answered in time only where nothing else holds both cores. */
const live = [
  'tests/browser/live.test.ts',
  'tests/browser/measure.test.ts',
  'tests/cli/agentLoad.test.ts',
  ...['live', 'liveCrash', 'liveWays', 'loadWatch', 'loadWatchAgain'].map((name) => `tests/db/${name}.test.ts`),
];

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          name: 'unit',
          include: unit,
          exclude: live,
          environment: 'node',
          maxWorkers: 2,
          setupFiles: ['tests/propertySeed.ts'],
          testTimeout: TEST_MS,
        },
      },
      {
        test: {
          name: 'db',
          include: ['tests/db/**/*.test.ts'],
          exclude: live,
          fileParallelism: false,
          testTimeout: TEST_MS,
          hookTimeout: TEST_MS,
        },
      },
      {
        test: {
          ...{ name: 'live', include: live, fileParallelism: false, testTimeout: TEST_MS, hookTimeout: TEST_MS },
          expect: { poll: { timeout: PATIENCE_MS, interval: 100 } },
        },
      },
      // each file has an application, a store and a browser of its own, and waits more than it works
      {
        test: {
          name: 'browser',
          include: ['tests/browser/**/*.test.ts'],
          exclude: live,
          globalSetup: ['tests/demoStore.ts'],
          maxWorkers: 2,
          testTimeout: TEST_MS,
          hookTimeout: TEST_MS,
          expect: { poll: { timeout: PATIENCE_MS, interval: 100 } },
        },
      },
    ],
  },
});
