import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { accessFaults } from './access.ts';
import { type App, open, startApp } from './app.ts';
import { handsOn } from './hands.ts';

let app: App;
beforeAll(async () => {
  app = await startApp('empty');
});
afterAll(async () => app.stop());

/** A page at the bench with the table of readings open for a new study. */
async function readingTable(title: string, rig: string | null) {
  const page = await app.newPage();
  await open(page, app.url);
  const hands = handsOn(page);
  await hands.press('Enter readings');
  await hands.press('A table of many runs');
  await hands.fill('Title of the new study', title);
  if (rig) await hands.fill('Rig or device', rig);
  return { page, hands };
}
const headline = async (page: Page) => (await page.getByRole('heading', { level: 1 }).innerText()).replace(/\s+/g, ' ');
const saved = (page: Page) => page.waitForURL(/\/studies\/\d+\/results/);
const studyOf = (page: Page) => Number(/studies\/(\d+)/.exec(page.url())?.[1]);

describe('every way of working, from an empty store', () => {
  it('one laptop before and after, three readings a state, nobody read the room', async () => {
    const { page, hands } = await readingTable('Old laptop', 'Ash laptop');
    const type = async (row: number, state: string | null, highest: string) => {
      if (state) await hands.fill(`Specimen or state, row ${row}`, state);
      await hands.fill(`Highest reading / °C, row ${row}`, highest);
      if (row < 6) await page.keyboard.press('Enter');
    };
    await type(1, 'As found', '94.1');
    await hands.select('Kind of the new specimens', 'State (before, after)');
    await type(2, null, '94.5');
    await type(3, null, '93.8');
    await type(4, 'Renewed', '81.0');
    await type(5, null, '81.4');
    await type(6, null, '80.6');
    await page.getByText('With the settings of this study these readings give no value.').waitFor();
    await hands.press('Compare this study by the highest reading, without a room');
    expect(await accessFaults(page)).toEqual([]);
    await hands.press('Save 6 runs');
    await saved(page);
    expect(await headline(page)).toMatch(/Renewed runs 13\.\d K cooler than As found/);
    await page.getByText('Temperature, room not subtracted / °C').first().waitFor();
    // eight entries in a notebook, the question, the device and what kind of thing it is; four presses
    expect(hands.count).toEqual({ clicks: 4, fields: 11 });
    // a digit that was misread is put right, and the history keeps it
    await open(page, `${app.url}/studies/${studyOf(page)}/runs`);
    await page
      .getByRole('link', { name: /Run 1|run 1/ })
      .first()
      .click();
    await page.waitForURL(/\/runs\/\d+/);
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    await page.getByRole('button', { name: 'Correct the readings' }).click();
    await page.getByRole('textbox', { name: 'Highest reading / °C' }).fill('95.1');
    await page.getByRole('textbox', { name: /^Reason for the correction/ }).fill('A 5 that looked like a 4');
    await page.getByRole('button', { name: 'Save readings' }).click();
    await page.getByText('1 change so far').click();
    await page.getByText(/Readings corrected.*A 5 that looked like a 4/).waitFor();
    await page.getByText('94.10 K ± 0.03 → 95.10 K ± 0.03').waitFor();
    // and it can be left out
    await page.getByRole('button', { name: 'Exclude …' }).waitFor();
  });

  it('three devices and two scenes, pasted from a spreadsheet', async () => {
    const { page, hands } = await readingTable('Three laptops', null);
    const level = { Ash: 70, Birch: 62, Cedar: 66 };
    const rows = Object.entries(level).flatMap(([device, rise], i) =>
      ['Menu', 'Battle'].flatMap((scene, s) =>
        [
          ['As found', 1, rise + 8 * s],
          ['Renewed', 1, rise + 8 * s - 9 - i / 2],
          ['Renewed', 2, rise + 8 * s - 8.4 - i / 2],
        ].map(([state, mount, mean]) => [device, state, mount, scene, mean, '21.5', '4.6.2026'].join('\t')),
      ),
    );
    await hands.paste('Specimen or state, row 1', ['Device\tState\tMount\tScene\tMean\tRoom\tDate', ...rows].join('\n'));
    await hands.select('Kind of the new specimens', 'State (before, after)');
    await hands.press('Save 18 runs');
    await saved(page);
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    expect(hands.count).toEqual({ clicks: 3, fields: 3 });
    for (const scene of ['Menu', 'Battle']) await page.getByRole('heading', { name: `Renewed against As found, ${scene}` }).waitFor();
    const table = page
      .getByRole('table', { name: 'Devices, As found and Renewed' })
      .or(page.getByLabel('Devices, As found and Renewed').locator('table'))
      .first();
    expect((await table.getByRole('row').nth(1).innerText()).replace(/\s+/g, ' ')).toMatch(
      /^Ash Menu ΔT over ambient \/ K 48\.5 \(n = 1\) 39\.8 \(n = 2\) −8\.7/,
    );
    await page
      .getByText(/^Mean over devices like these: −9\.2\sK/)
      .first()
      .waitFor();
    await page.getByRole('button', { name: 'Sort by device' }).click();
    const devices = (await table.getByRole('row').allInnerTexts()).slice(1).map((r) => r.split(/\s/)[0]);
    expect(devices).toEqual([...devices].sort());
    const csv = await (await fetch(`${app.url}/api/studies/${studyOf(page)}/devices.csv`)).text();
    expect(csv.split('\n')[0]).toBe('device,load,outcome,unit,As found,mounts_before,Renewed,mounts_after,change,ci_low,ci_high');
    expect(csv.split('\n').filter((l) => /,Menu,ΔT over ambient,/.test(l))).toHaveLength(3);
    await open(page, `${app.url}/studies/${studyOf(page)}/report`);
    await page.getByText('Device by device').first().waitFor();
    // the devices are what is taken out of the comparison, and the state as found cannot come back
    const grid = await (await fetch(`${app.url}/api/studies/${studyOf(page)}/plan`)).json();
    expect(grid.plan).toMatchObject({ design: 'before_after', varies: 'state' });
  });

  it('a sealed device with a stopwatch: no temperature is asked for anywhere', async () => {
    const { page, hands } = await readingTable('Sealed box', 'Hut box');
    await page.getByText('More columns').click();
    await hands.fill('A part, sensor or event by name', 'shut-off');
    await hands.press('Add its time');
    const times = [
      ['Bare', '1', '4:10'],
      ['Bare', '2', '4:31'],
      ['With sheet', '1', '9:02'],
      ['With sheet', '2', '8:40'],
      ['With sheet', '3', '>10:00'],
    ];
    for (const [i, [specimen, mount, time]] of times.entries()) {
      await hands.fill(`Specimen or state, row ${i + 1}`, specimen);
      await hands.fill(`Mount, row ${i + 1}`, mount);
      await hands.fill(`Time to shut-off / s or min:s, row ${i + 1}`, time);
      if (i < times.length - 1) await page.keyboard.press('Enter');
    }
    await hands.select('Kind of the new specimens', 'Graphite sheet');
    await hands.press('Save 5 runs');
    await saved(page);
    expect(await headline(page)).toMatch(/With sheet holds at least \d+ s longer than Bare/);
    expect(await page.getByRole('main').innerText()).not.toMatch(/ΔT over ambient/i);
    await open(page, `${app.url}/studies/${studyOf(page)}/mounts`);
    expect(await page.getByRole('main').innerText()).toContain('time to an event');
    await open(page, `${app.url}/studies/${studyOf(page)}/plan`);
    await page.locator('summary', { hasText: 'Outcomes' }).getByText('Time to an event').waitFor();
    expect(hands.count).toEqual({ clicks: 4, fields: 19 });
  });

  it('five drive heatsinks with three parts each, and a limit for every part', async () => {
    const { page, hands } = await readingTable('Drive heatsinks', 'Drive bay');
    const rows = ['Fin', 'Plate', 'Low', 'Twin', 'None'].flatMap((name, i) =>
      [1, 2].map((mount) => [name, mount, 61 + 3 * i + 0.4 * mount, 55 + 2 * i, 52 + i, 22].join('\t')),
    );
    await page.getByText('More columns').click();
    for (const part of ['Controller', 'Memory 1', 'Memory 2']) {
      await hands.fill('A part, sensor or event by name', part);
      await hands.press('Add its temperature');
    }
    await hands.paste('Specimen or state, row 1', ['Cooler\tMount\tController\tMemory 1\tMemory 2\tRoom', ...rows].join('\n'));
    await hands.select('Kind of the new specimens', 'Cooler');
    await hands.press('Compare this study by the hottest sensor');
    await hands.press('Save 10 runs');
    await saved(page);
    // a notebook has fifty figures and three names of parts; here they are one paste, beside the title, the bench and what was judged by
    expect(hands.count).toEqual({ clicks: 7, fields: 7 });
    expect(await headline(page)).toMatch(/Fin/);
    await open(page, `${app.url}/studies/${studyOf(page)}/plan`);
    await page.locator('summary').filter({ hasText: 'Limits of single parts' }).click();
    await page.getByLabel(/^Parts with own limits/).fill('Controller: Controller = 80; Memory: Memory 1, Memory 2 = 70');
    await page.keyboard.press('Tab');
    const limits = async () => (await (await fetch(`${app.url}/api/studies/${studyOf(page)}/plan`)).json()).plan.part_limits;
    await expect.poll(limits).toMatch(/^Controller/);
    await open(page, `${app.url}/studies/${studyOf(page)}/results`);
    await page.getByRole('heading', { name: 'Parts and their limits' }).waitFor();
    expect((await page.getByRole('main').innerText()).replace(/\s+/g, ' ')).toMatch(/Controller/);
  });

  it('a mount that looks too hot is lifted in the middle of a study: it failed, and the next counts', async () => {
    const { page, hands } = await readingTable('Lifted', 'Bench of lifts');
    await hands.paste('Specimen or state, row 1', 'Specimen\tMount\tMean\tRoom\nLoam\t1\t61\t21\nLoam\t2\t61.5\t21\nWick\t1\t65\t21');
    await hands.select('Kind of the new specimens', 'Paste');
    await hands.press('Save 3 runs');
    await saved(page);
    const study = studyOf(page);
    await open(page, `${app.url}/studies/${study}/mounts`);
    await page.getByRole('link', { name: /^Wick mount 1/ }).click();
    await page.waitForURL(/\/mounts\/\d+$/);
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    const lifting = handsOn(page);
    await lifting.press('Mark as failed because of its temperatures …');
    await lifting.tick('Cooler tilted');
    await page.getByText('tighten crosswise in rounds').waitFor();
    expect(await accessFaults(page)).toEqual([]);
    const before = page.url();
    await lifting.press('It failed: plan a new mount');
    await page.waitForURL((url) => /\/mounts\/\d+$/.test(url.href) && url.href !== before);
    // three presses for what a notebook takes a line for
    expect(lifting.count).toEqual({ clicks: 3, fields: 0 });
    await page.getByText('Wick, mount 2').first().waitFor();
    await open(page, before);
    await page.getByText('This mount failed.').waitFor();
    await page.getByText(/Left out of the means: Cooler tilted\. It counts in the failure rate\./).waitFor();
    // the reading of the next one goes to the mount whose page is open
    await page.goBack();
    await open(page, `${app.url}/studies/${study}/mounts`);
    await page.getByRole('link', { name: /^Wick mount 2/ }).click();
    await page.waitForURL(/\/mounts\/\d+$/);
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    await page.getByRole('button', { name: 'Enter readings' }).click();
    await page.getByRole('textbox', { name: 'Mean of the sensors / °C' }).fill('59.0');
    await page.getByRole('textbox', { name: 'Room / °C' }).fill('21.0');
    await expect
      .poll(() =>
        page.getByRole('combobox', { name: 'Mount', exact: true }).evaluate((e) => (e as HTMLSelectElement).selectedOptions[0].text),
      )
      .toMatch(/^Mount 2/);
    await page.getByRole('button', { name: 'Store this run' }).click();
    await page.waitForURL(/\/runs\/\d+/);
    await open(page, `${app.url}/studies/${study}/mounts`);
    expect((await page.getByRole('main').innerText()).replace(/\s+/g, ' ')).toContain('1 of 2 applications failed');
    await open(page, `${app.url}/studies/${study}/results`);
    expect(await headline(page)).toMatch(/Wick runs 2\.\d K cooler than Loam/);
    await page.getByText('left out: mount 1, Cooler tilted').first().waitFor();
  });

  it('a run that was stored under the wrong mount is moved, and its history says so', async () => {
    const { page, hands } = await readingTable('Mixed up', 'Bench of mixtures');
    await hands.paste('Specimen or state, row 1', 'Specimen\tMount\tMean\tRoom\nLoam\t1\t61\t21\nLoam\t1\t55.1\t21\nWick\t1\t55\t21');
    await hands.select('Kind of the new specimens', 'Paste');
    await hands.press('Save 3 runs');
    await saved(page);
    await open(page, `${app.url}/studies/${studyOf(page)}/runs`);
    await page
      .getByRole('link', { name: /Run 2|run 2/ })
      .first()
      .click();
    await page.waitForURL(/\/runs\/\d+/);
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    const moving = handsOn(page);
    await moving.press('Move to another mount …');
    await moving.select('Specimen', 'Wick');
    await moving.select('Mount', 'Mount 1, Bench of mixtures');
    expect(await accessFaults(page)).toEqual([]);
    await moving.press('Move the run');
    await page.getByText('Wick, mount 1, run 2').first().waitFor();
    await page.getByText('1 change so far').click();
    await page.getByText(/Moved.*Loam, mount 1 → Wick, mount 1/).waitFor();
    expect(moving.count).toEqual({ clicks: 2, fields: 2 });
  });
});
