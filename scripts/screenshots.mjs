// Refreshes docs/screenshots from a running demo: node scripts/screenshots.mjs http://127.0.0.1:4310
import { chromium } from 'playwright-core';
import { CHROMIUM } from './chromium.mjs';

const url = process.argv[2] ?? 'http://127.0.0.1:4310';
const folder = 'docs/screenshots';
const browser = await chromium.launch(CHROMIUM);

async function open(place, options = {}) {
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, colorScheme: 'light', ...options });
  const page = await context.newPage();
  await page.goto(url + place);
  await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
  await page.waitForTimeout(800);
  return page;
}

async function shoot(name, place, options) {
  const page = await open(place, options);
  await page.screenshot({ path: `${folder}/${name}.png` });
  await page.context().close();
}

const phone = { viewport: { width: 390, height: 844 } };
await shoot('studies', '/studies');
await shoot('runs', '/studies/1/runs');
await shoot('results', '/studies/1/results');
await shoot('run', '/runs/1');
await shoot('report', '/studies/1/report');
const states = await open('/studies/3/results', { viewport: { width: 1280, height: 1260 } });
await states.screenshot({ path: `${folder}/before-after.png` });
await states.context().close();

await shoot('plan', '/studies/2/plan');
await shoot('shelf', '/shelf/materials');
const mounts = await open('/studies/2/mounts', { viewport: { width: 1280, height: 1260 } });
await mounts.screenshot({ path: `${folder}/mounts.png` });
await mounts.context().close();
await shoot('coolers', '/studies/4/coolers');
await shoot('ageing', '/studies/6/ageing');
await shoot('stack', '/tools/stack');
await shoot('ranking', '/ranking');
const print = await open('/tools/print?photograph=1');
await print.getByTestId('cover').waitFor({ timeout: 20_000 });
await print.waitForTimeout(500);
await print.screenshot({ path: `${folder}/print.png` });
await print.context().close();

// a live run of the simulated bench, some minutes into its load, and the bench beside it
const live = await open('/mounts/49');
await live.getByRole('button', { name: 'Go to pre-flight check' }).click();
await live.getByRole('button', { name: 'Begin the run' }).click({ timeout: 30_000 });
await live.getByRole('heading', { level: 1, name: 'Settling' }).waitFor({ timeout: 60_000 });
await live.getByText(/^Steady in/).waitFor({ timeout: 30_000 });
await live.waitForTimeout(3000);
// the click may have scrolled to the button, which is gone
await live.evaluate(() => scrollTo(0, 0));
await live.screenshot({ path: `${folder}/live.png` });
await shoot('bench', '/');
await live.context().close();

// a mount of liquid metal, just begun, at the step where its caution stands
const begun = await (
  await fetch(`${url}/api/studies/1/mounts`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ specimen_id: 7, rig_id: 1, who: 'EB' }),
  })
).json();
const sheet = await open(`/mounts/${begun.id}`, phone);
await sheet.getByRole('button', { name: 'Apply', exact: true }).click();
await sheet.waitForTimeout(400);
await sheet.screenshot({ path: `${folder}/mount-phone.png` });
await sheet.context().close();

// logs of the demo that are not stored yet: stored ones without their last row, under the names of further runs
const further = async (run, name) => ({
  name,
  mimeType: 'text/csv',
  buffer: Buffer.from((await (await fetch(`${url}/api/runs/${run}/files/0`)).text()).trimEnd().split('\n').slice(0, -1).join('\n')),
});
const page = await open('/studies/1/results');
await page.setInputFiles('[data-testid=log-files]', await further(1, 'loam-white_m6_r1.csv'));
await page.getByTestId('preview-value').waitFor();
await page.waitForTimeout(2000);
await page.screenshot({ path: `${folder}/import.png` });
const names = [
  'loam-white_m2_r4.csv',
  'alder-grey_m6_r1.csv',
  'wick-60_m3_r4.csv',
  'bramble-5_m1_r4.csv',
  'soot-leaf_m6_r1.csv',
  'log-0231.csv',
];
await page.goto(`${url}/studies/1/runs`);
await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
await page.setInputFiles('[data-testid=log-files]', await Promise.all(names.map((name, i) => further(2 + 7 * i, name))));
await page.getByRole('button', { name: 'Store 6 runs' }).waitFor();
await page.waitForTimeout(1500);
await page.screenshot({ path: `${folder}/batch.png` });
await browser.close();
