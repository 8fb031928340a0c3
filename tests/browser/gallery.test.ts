import { spawn } from 'node:child_process';
import { chromium } from 'playwright-core';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { CHROMIUM } from '../../scripts/chromium.mjs';
import { onFreshDatabase } from '../database.ts';
import { freePort } from '../demoStore.ts';
import { PATIENCE_MS } from '../patience.ts';
import { accessFaults } from './access.ts';

const store = onFreshDatabase();
let url = '';
let server: ReturnType<typeof spawn>;
beforeAll(async () => {
  const port = await freePort();
  url = `http://127.0.0.1:${port}/gallery`;
  const env = { ...process.env, DATABASE_URL: store.url(), NODE_ENV: 'development' };
  server = spawn('node', ['node_modules/astro/astro.js', 'dev', '--port', String(port)], { env, stdio: 'ignore' });
}, PATIENCE_MS);
afterAll(async () => {
  const gone = new Promise((done) => server.once('exit', done));
  server.kill('SIGTERM');
  await gone;
});

it.each(['light', 'dark'] as const)(
  'every piece of the interface, %s, breaks no rule of accessibility',
  { timeout: 4 * PATIENCE_MS },
  async (colorScheme) => {
    const browser = await chromium.launch(CHROMIUM);
    try {
      const page = await (await browser.newContext({ colorScheme })).newPage();
      await expect
        .poll(
          () =>
            page
              .goto(url)
              .then((r) => r?.status())
              .catch(() => null),
          { timeout: 3 * PATIENCE_MS, interval: 1000 },
        )
        .toBe(200);
      await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null, null, { timeout: 2 * PATIENCE_MS });
      await page.getByRole('figure', { name: 'A course' }).waitFor();
      expect(await accessFaults(page, 'practice')).toEqual([]);
    } finally {
      await browser.close();
    }
  },
);
