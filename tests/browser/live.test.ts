import type { Page } from 'playwright-core';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { closeDatabase, database } from '#app/database/pool';
import { NORTH_BENCH } from '#simulator/rigs';
import { BENCH_FAULTS } from '#simulator/simulatedBench';
import { type RunningBench, startBench } from '#simulator/startSimulator';
import { stockLive, until } from '../liveBench.ts';
import { accessFaults } from './access.ts';
import { type App, startApp } from './app.ts';

const SPEED = 60;
let app: App;
let bench: RunningBench;
let page: Page;
let stock: Awaited<ReturnType<typeof stockLive>>;

beforeAll(async () => {
  app = await startApp();
  process.env.DATABASE_URL = app.databaseUrl;
  bench = await startBench({
    rig: NORTH_BENCH,
    interface_k_per_w: 0.06,
    room_c: 22,
    seed: 8,
    port: null,
    speed: SPEED,
    host: { period_s: 2, channels: ['Clock', 'Throttling'] },
  });
  stock = await stockLive(bench, { speed: SPEED, period_s: 2, rig: { stop_c: 120 } });
  page = await app.newPage();
});
// a test that fails leaves no run or fault behind that would keep the bench from the next one
afterEach(async () => {
  for (const fault of BENCH_FAULTS) bench.fault(fault, false);
  const open = async () => (await database().query<{ id: number }>('select id from live_runs where ended_at is null')).rows;
  for (const { id } of await open())
    await fetch(`${app.url}/api/live/${id}/orders`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', origin: app.url },
      body: JSON.stringify({ kind: 'stop', reason: 'The test is over', who: 'T' }),
    });
  await expect.poll(async () => (await open()).length).toBe(0);
});
afterAll(async () => {
  await bench?.stop();
  await closeDatabase();
  await app.stop();
});

const stage = () => page.getByTestId('stage').innerText();
const alive = () => page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);

/** Begins a live run through the page of its mount; returns its number. */
async function toPreflight(kind = 'Runs', setUp: () => Promise<void> = async () => {}): Promise<number> {
  await page.goto(`${app.url}/mounts/${stock.mount}`);
  await alive();
  await page.getByLabel('What is run').selectOption({ label: kind });
  await setUp();
  await page.getByRole('button', { name: 'Go to pre-flight check' }).click();
  await page.waitForURL(/\/live\/\d+$/);
  await alive();
  const id = Number(/\d+$/.exec(page.url())?.[0]);
  bench.host?.pushTo(`${app.url}/api/live/${id}`);
  return id;
}

async function begin(): Promise<void> {
  const button = page.getByRole('button', { name: 'Begin the run' });
  // a check that turns wrong for a moment, as where others hold the machine, refuses the first try
  const pressed = async () => {
    if (await button.isEnabled({ timeout: 2000 }).catch(() => false)) await button.click({ timeout: 5000 }).catch(() => {});
    return stage();
  };
  await expect.poll(pressed).toMatch(/Idle|Load on|Settling/);
}

/** Notes in the page every stage it shows and what it waits for, however shortly. */
async function noteStages(): Promise<() => Promise<string[]>> {
  await page.evaluate(() => {
    const noted: string[] = [];
    Object.assign(window, { noted });
    const note = () => noted.push(...['stage', 'waits'].map((id) => document.querySelector(`[data-testid=${id}]`)?.textContent ?? ''));
    new MutationObserver(note).observe(document.body, { subtree: true, childList: true, characterData: true });
  });
  return () => page.evaluate(() => [...new Set((window as unknown as { noted: string[] }).noted)]);
}

describe('a live run, sixty times as fast', () => {
  it('goes from pre-flight to "next: remount" under the eyes of two browsers and a phone', async () => {
    await database().query(`update studies set plan = plan || '{"runs": 1}' where id = $1`, [stock.study]);
    const id = await toPreflight();
    await page.getByRole('heading', { name: 'Everything is ready: the run can begin' }).waitFor();
    expect(await page.locator('main').innerText()).toMatch(/Cooled down\s+[\d.]+ K above ambient/);
    expect(await accessFaults(page, 'practice')).toEqual([]);
    // what is too large is refused, whether it says its length or not, and counted on the run
    const large = 'x'.repeat(50_000_000);
    const refused = await fetch(`${app.url}/api/live/${id}`, { method: 'POST', body: large });
    expect(refused.status).toBe(413);
    expect((await refused.json()).error).toContain('larger than the 2 MB');
    const untold = new ReadableStream({
      pull: (control) => control.enqueue(new TextEncoder().encode('x'.repeat(65_536))),
    });
    const cut = await fetch(`${app.url}/api/live/${id}`, { method: 'POST', body: untold, duplex: 'half' } as RequestInit).catch(() => null);
    if (cut) expect(cut.status).toBe(413);
    await expect.poll(() => page.getByRole('region', { name: 'Rejected readings' }).innerText()).toMatch(/2 ×\s+A push was larger than/);
    const phone = await app.newPage({ viewport: { width: 390, height: 800 } });
    await phone.goto(`${app.url}/live/${id}`);
    // a second tab of the same browser shares the stream of the first
    const tab = await page.context().newPage();
    await tab.goto(`${app.url}/live/${id}`);
    const bank = await app.newPage();
    await bank.goto(app.url);
    const stages = await noteStages();
    await begin();
    const seen = new Set<string>();
    await until(async () => {
      seen.add(await stage());
      // the others see the same within a moment
      if (seen.has('Settling') && !seen.has('phone')) {
        await expect.poll(() => tab.getByTestId('stage').innerText()).toMatch(/Settling|Averaging|Done/);
        await expect.poll(() => phone.getByTestId('stage').innerText()).toMatch(/Settling|Averaging|Done/);
        await expect.poll(() => bank.getByRole('region', { name: /, live$/ }).innerText()).toMatch(/Settling|Averaging/);
        seen.add('phone');
      }
      return seen.has('Done');
    }, 'the end of the run');
    expect(await stages()).toEqual(expect.arrayContaining(['Load on', 'Settling', 'Averaging', 'Done']));
    expect(seen).toContain('phone');
    expect((await stages()).filter((s) => s.startsWith('Steady')).length).toBeGreaterThan(0);
    await expect.poll(() => page.getByTestId('waits').innerText()).toBe('Next: remount.');
    expect(await phone.evaluate(() => document.documentElement.scrollWidth <= innerWidth)).toBe(true);
    // the run is there, like any other
    await page.getByRole('link', { name: 'Run 1' }).click();
    await page.getByRole('heading', { level: 1, name: 'Loam White, mount 1, run 1' }).waitFor();
    expect(await page.locator('main').innerText()).toMatch(/ΔT over ambient\s+4\d\.\d/);
    await phone.context().close();
    await bank.context().close();
    await tab.close();
  });

  it('every fault raises an alarm that is seen and heard, until somebody has seen it', async () => {
    // never flat enough, so that the load goes on until the faults are through
    await database().query(`update studies set reduction = '{"slope_k_per_min": 1e-6}', plan = plan || '{"runs": 3}' where id = $1`, [
      stock.study,
    ]);
    await toPreflight();
    bench.fault('no_start', true);
    await begin();
    const alarms = page.getByTestId('alarms');
    const loud = async (fault: string, says: RegExp, last = '') => {
      if (fault) bench.fault(fault, true);
      await expect.poll(() => alarms.innerText(), { message: fault }).toMatch(says);
      await expect.poll(() => alarms.getAttribute('data-sounding'), { message: fault }).toBe('yes');
      if (fault && !last) bench.fault(fault, false);
      // channels of one instrument are told one by one: each is seen
      await until(
        async () => {
          const seen = alarms.getByRole('button', { name: 'Acknowledge' });
          if (await seen.isVisible()) await seen.click({ timeout: 2000 }).catch(() => {});
          if ((await alarms.getAttribute('data-sounding')) === 'yes') return false;
          return !fault || last !== '' || !says.test(await alarms.innerText());
        },
        `the end of ${fault || 'the first alarm'}`,
      );
    };
    // the load does not start at first; it is switched on again by hand
    await expect.poll(() => alarms.innerText()).toMatch(/does not start/);
    for (const colorScheme of ['light', 'dark'] as const) {
      const other = await app.newPage({ colorScheme });
      await other.goto(page.url());
      await other.getByRole('alert').waitFor();
      expect(await accessFaults(other, 'practice'), colorScheme).toEqual([]);
      await other.context().close();
    }
    await loud('', /does not start/);
    await page.getByRole('button', { name: 'Switch the load on again' }).click();
    await expect.poll(stage).toBe('Settling');
    for (const [fault, says] of [
      ['power:refuse', /Load .* has not answered/],
      ['tachometer:slow', /Tachometer .* has not answered/],
      ['sound:garbage', /Sound meter .* has not answered/],
      ['thermometer:stuck', /stuck/],
      ['door', /is a door open/],
    ] as const)
      await loud(fault, says);
    await loud('fan_stall', /The fan turns at/, 'cut off');
    bench.fault('fan_stall', false);
    // a limit that is passed cuts the load off
    await until(async () => !bench.bench.isLoaded, 'the load to be cut off');
    // the page may still show the stage before the cut: the next run tells that it has followed
    await expect.poll(() => alarms.innerText()).toMatch(/run 2 of \d/);
    await expect.poll(stage).toBe('Settling');
    await loud('throttle', /throttles|climbs/, 'stays');
    await page.getByRole('button', { name: 'Stop…' }).click();
    await page.getByLabel(/Reason for stopping/).fill('Faults seen');
    await page.getByRole('button', { name: 'Stop the run' }).click();
    await expect.poll(stage).toBe('Stopped');
    bench.fault('throttle', false);
    // what could not be taken stands on the run, counted
    expect(await page.getByRole('region', { name: 'Rejected readings' }).innerText()).toMatch(/not a number|holds/);
  });

  it('goes on where it was after a restart of the application', async () => {
    await database().query(`update studies set reduction = '{}', plan = plan || '{"runs": 9}' where id = $1`, [stock.study]);
    await toPreflight();
    await begin();
    await expect.poll(stage).toBe('Settling');
    await app.killAndRestart();
    await expect.poll(() => page.locator('main').innerText()).not.toContain('The server does not answer');
    await page.getByRole('region', { name: 'Runs so far' }).getByRole('link').waitFor();
    expect(await page.getByRole('region', { name: 'Runs so far' }).innerText()).toMatch(/4\d\.\d\d/);
    await page.getByRole('button', { name: 'Stop…' }).click();
    await page.getByLabel(/Reason for stopping/).fill('Enough');
    await page.getByRole('button', { name: 'Stop the run' }).click();
    await expect.poll(stage).toBe('Stopped');
  });

  it('a test to the limit has its caution, and its events are marked with their load', async () => {
    await toPreflight('Attended test to the limit', async () => page.getByLabel('Hard limit / °C').fill('200'));
    const start = page.getByRole('button', { name: /^Begin/ });
    await page.getByText('This test heats the part').waitFor();
    await expect.poll(() => start.isDisabled()).toBe(true);
    await page.getByLabel('I stay beside it until it is cold').check();
    const reason = page.getByLabel('Reason to begin anyway');
    if (await reason.isVisible()) await reason.fill('The fan is off on purpose');
    await start.click();
    await expect.poll(stage).toBe('Settling');
    await page.getByRole('button', { name: 'Mark: warning' }).click();
    await page.getByRole('button', { name: 'Mark: power reduced' }).waitFor();
    await expect
      .poll(() => page.getByRole('region', { name: 'At the bench' }).innerText())
      .toMatch(/warning\s+\d+ s under load, 1[34]\d W/);
    await page.getByRole('button', { name: 'Stop…' }).click();
    await page.getByLabel(/Reason for stopping/).fill('Seen enough');
    await page.getByRole('button', { name: 'Stop the run' }).click();
    await page.getByRole('region', { name: 'Runs so far' }).getByRole('link').click();
    await page.getByText('Time to warning').waitFor();
    // it is no run of the study, and says so
    expect(await page.locator('main').innerText()).toMatch(/Excluded by hand[\s\S]*Time to shut-off\s+over \d+/);
  });
});
