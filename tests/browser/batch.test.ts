import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { NORTH_BENCH } from '#simulator/rigs';
import { simulateRun } from '#simulator/simulateRun';
import { writeLog } from '#simulator/writeLog';
import { base } from '../simulatedLog.ts';
import { accessFaults } from './access.ts';
import { type App, dropFiles, open, startApp } from './app.ts';
import { elevenRuns } from './elevenRuns.ts';
import { handsOn } from './hands.ts';

const headline = async (page: Page) => (await page.getByRole('heading', { level: 1 }).innerText()).replace(/\s+/g, ' ');
const cleanApp = () => {
  let app: App;
  beforeAll(async () => {
    app = await startApp('empty');
  });
  afterAll(async () => app.stop());
  return () => app;
};
const words = (page: Page) => page.getByTestId('batch-words').innerText();
const rowOf = (page: Page, name: string) => page.getByRole('row').filter({ hasText: name });
const mountOf = (page: Page, name: string) => page.getByLabel(`Mount of ${name}`, { exact: true }).inputValue();

describe('eleven foreign files with good names, on an empty store', () => {
  const app = cleanApp();
  it('give a verdict with two presses and no field', async () => {
    const page = await app().newPage();
    await open(page, app().url);
    const hands = handsOn(page);
    hands.count.clicks++; // "Add a log", whose dialog is the system's
    await dropFiles(
      page,
      elevenRuns((thing, mount, run) => `${thing}_mount${mount}_run${run}.csv`),
    );
    await page.getByRole('button', { name: 'Store 11 runs' }).waitFor();
    await expect.poll(() => words(page)).toBe('11 runs on 6 mounts of Amber nine, Birch two and Cedar');
    await page.getByText(/^Reading \d/).waitFor({ state: 'hidden' });
    expect(await accessFaults(page)).toEqual([]);
    await hands.press('Store 11 runs');
    await page.waitForURL(/\/studies\/\d+\/results/);
    expect(await headline(page)).toMatch(/^Amber nine runs 2\.\d K cooler than Birch two \(95 % .*2 mounts each\)/);
    expect(hands.count).toEqual({ clicks: 2, fields: 0 });
    await page.getByRole('link', { name: 'Mounts', exact: true }).click();
    await page.getByRole('heading', { level: 1 }).waitFor();
    const listed = await (await fetch(`${app().url}/api/places`)).json();
    expect(listed.mounts.map((m: { number: number; runs: number }) => [m.number, m.runs])).toEqual([
      [1, 2],
      [2, 2],
      [1, 2],
      [2, 2],
      [1, 2],
      [2, 1],
    ]);
    expect(listed.rigs).toMatchObject([{ name: 'Bench 1' }]);
    expect(listed.studies).toMatchObject([{ title: 'Amber nine, Birch two and Cedar' }]);
  });

  it('are known the next time, told before anything is stored, and moved where they belong', async () => {
    const page = await app().newPage();
    await open(page, app().url);
    const logs = elevenRuns((thing, mount, run) => `${thing}_mount${mount}_run${run}.csv`);
    const fresh = elevenRuns((thing, mount, run) => `${thing}_mount${mount + 2}_run${run}.csv`, 1780900800).slice(0, 2);
    const throttled = simulateRun(NORTH_BENCH, { ...base, idle_s: 120, load_s: 900, cooldown_s: 60, seed: 77, interface_k_per_w: 0.6 });
    await dropFiles(page, [
      { ...logs[0], name: 'birch two m2 again.csv' },
      ...fresh,
      { name: 'copy of amber.csv', bytes: fresh[0].bytes },
      { name: 'cedar m7.csv', bytes: new TextEncoder().encode(writeLog(throttled, 1781000000)) },
      { name: 'broken.csv', bytes: new TextEncoder().encode('Time,Die (°C)\n') },
    ]);
    await page.getByRole('radio', { name: '6 runs, one in each file' }).check();
    await page.getByRole('button', { name: 'Store 3 runs' }).waitFor();
    // the study that knows the names is found
    expect(await page.getByLabel('Study', { exact: true }).locator('option:checked').innerText()).toBe('Amber nine, Birch two and Cedar');
    await expect.poll(() => page.getByText('1 throttled, 2 stored already and 1 cannot be read').isVisible()).toBe(true);
    expect(await rowOf(page, 'birch two m2 again.csv').innerText()).toMatch(/Stored already:\s*run 1 of Amber nine, mount 1/);
    expect(await rowOf(page, 'copy of amber.csv').innerText()).toContain('The same bytes as amber_nine_mount3_run1.csv');
    expect(await rowOf(page, 'cedar m7.csv').innerText()).toContain('≥');
    expect(await rowOf(page, 'broken.csv').innerText()).toContain('there is a header but no row of readings');
    expect(await mountOf(page, 'cedar m7.csv')).toBe('7');
    // the run that lies in the wrong place is moved from here
    await rowOf(page, 'birch two m2 again.csv').getByRole('button', { name: 'Move that run here' }).click();
    await rowOf(page, 'birch two m2 again.csv').getByRole('link', { name: 'moved here' }).waitFor();
    await page.getByRole('button', { name: 'Store 3 runs' }).click();
    await page.getByText('4 runs stored.').waitFor();
    const { mounts } = await (await fetch(`${app().url}/api/places`)).json();
    const of = (id: number) =>
      mounts.filter((m: { specimen_id: number }) => m.specimen_id === id).map((m: { number: number; runs: number }) => [m.number, m.runs]);
    const ids = [...new Set(mounts.map((m: { specimen_id: number }) => m.specimen_id))] as number[];
    expect(ids.map(of)).toEqual([
      [
        [1, 1],
        [2, 2],
        [3, 2],
      ],
      [
        [1, 2],
        [2, 3],
      ],
      [
        [1, 2],
        [2, 1],
        [7, 1],
      ],
    ]);
    await page.getByRole('link', { name: 'See the results' }).click();
    await page.waitForURL(/results/);
  });
});

describe('eleven files whose names say nothing', () => {
  const app = cleanApp();
  it('are named by picking ranges, with at most ten presses', async () => {
    const page = await app().newPage();
    await open(page, app().url);
    let clicks = 1; // "Add a log"
    await dropFiles(
      page,
      elevenRuns((_thing, _mount, _run, i) => `log-0${230 + i}.csv`),
    );
    await page.getByText('11 files have no name yet').waitFor();
    const pick = async (from: number, to: number, name: string) => {
      clicks += 2;
      await page.getByLabel(`Choose log-0${from}.csv`, { exact: true }).click();
      await page.getByLabel(`Choose log-0${to}.csv`, { exact: true }).click({ modifiers: ['Shift'] });
      await page.getByText(`${to - from + 1} files chosen:`).waitFor();
      await expect.poll(() => page.evaluate(() => document.activeElement?.tagName)).toBe('INPUT');
      await page.keyboard.type(name);
      await page.keyboard.press('Enter');
    };
    await pick(231, 234, 'Amber nine');
    await pick(235, 238, 'Birch two');
    expect(await accessFaults(page)).toEqual([]);
    await pick(239, 241, 'Cedar');
    expect(await words(page)).toBe('11 runs on 11 mounts of Amber nine, Birch two and Cedar');
    clicks += 2;
    await page.getByRole('radio', { name: 'runs of one mount' }).check();
    await expect.poll(() => words(page)).toBe('11 runs on 3 mounts of Amber nine, Birch two and Cedar');
    await page.getByRole('radio', { name: 'each a new mount' }).check();
    clicks++;
    await page.getByRole('button', { name: 'Store 11 runs' }).click();
    await page.waitForURL(/\/studies\/\d+\/results/);
    expect(await headline(page)).toMatch(/^Amber nine runs 2\.\d K cooler than Birch two/);
    expect(clicks).toBeLessThanOrEqual(10);
  });
});

describe('files that are read alike', () => {
  const app = cleanApp();
  it('have a column named once for all, a mount and a name put right, and one is left out', async () => {
    const page = await app().newPage({ viewport: { width: 390, height: 844 } });
    await open(page, app().url);
    // nothing says that "Spot B" is the room
    const logs = elevenRuns((thing, mount, run) => `${thing}_m${mount}_r${run}.csv`)
      .slice(0, 5)
      .map((l) => ({ ...l, bytes: new TextEncoder().encode(new TextDecoder().decode(l.bytes).replace('Ambient (°C)', 'Spot B')) }));
    await dropFiles(page, logs);
    await page.getByRole('radio', { name: '5 runs, one in each file' }).check();
    await page.getByText('How the 5 files with the same columns are read').click();
    await page.getByLabel('Role of Spot B').selectOption('ambient');
    for (const l of logs) await expect.poll(() => rowOf(page, l.name).innerText()).toMatch(/4\d\.\d/);
    await page.getByRole('button', { name: 'Always read files with these headers this way' }).click();
    await page.getByText('Remembered').waitFor();
    await page.getByLabel('Name of Birch two').fill('Birch');
    await page.keyboard.press('Enter');
    await page.getByLabel('Mount of amber_nine_m1_r2.csv').fill('4');
    await page.getByRole('button', { name: 'Leave out amber_nine_m2_r2.csv' }).click();
    await expect.poll(() => words(page)).toBe('4 runs on 4 mounts of Amber nine and Birch');
    expect(await accessFaults(page)).toEqual([]);
    await page.getByLabel('Title of the new study').fill('Summer');
    await page.getByRole('button', { name: 'Store 4 runs' }).click();
    await page.waitForURL(/\/studies\/\d+\/results/);
    const { mounts, studies } = await (await fetch(`${app().url}/api/places`)).json();
    expect(mounts.map((m: { number: number }) => m.number)).toEqual([1, 2, 4, 1]);
    expect(studies[0].title).toBe('Summer');
  });

  it('of a device before and after make a before and after', async () => {
    const page = await app().newPage();
    await open(page, app().url);
    const logs = elevenRuns((_thing, _mount, _run, i) => (i <= 2 ? `ash after r${i}.csv` : `ash before r${i - 8}.csv`), 1781300800)
      .filter((l) => /r[12]\.csv$/.test(l.name))
      .slice(0, 4);
    await dropFiles(page, [...logs.slice(2), ...logs.slice(0, 2)]);
    await page.getByRole('radio', { name: '4 runs, one in each file' }).check();
    await page.getByLabel('Study', { exact: true }).selectOption('a new study');
    await expect.poll(() => words(page)).toBe('4 runs on 2 mounts of Before and After');
    await expect.poll(() => page.getByLabel('What is compared').inputValue()).toBe('state');
    await expect.poll(() => page.getByLabel('Title of the new study').inputValue()).toBe('Ash');
    await page.getByRole('button', { name: 'Store 4 runs' }).click();
    await page.waitForURL(/\/studies\/\d+\/results/);
    expect(await headline(page)).toMatch(/After runs 5\.\d K cooler than Before/);
  });
});
