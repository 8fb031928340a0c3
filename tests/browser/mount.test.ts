import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type App, open, startApp } from './app.ts';

let app: App;
beforeAll(async () => {
  app = await startApp();
});
afterAll(() => app.stop());

const post = async (path: string, body: object) =>
  (await fetch(`${app.url}/api/${path}`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })).json();

/** Goes through the steps up to one, marking cautions as they come. */
async function stepsUpTo(page: Page, last: string): Promise<void> {
  for (let i = 0; i < 20; i++) {
    const heading = await page.getByRole('heading', { level: 1 }).innerText();
    if (heading === last) return;
    const mark = page.getByLabel('I have read it and it is so');
    if ((await mark.count()) > 0) await mark.check();
    await page.getByRole('button', { name: /^Done/ }).click();
    await expect.poll(() => page.getByRole('heading', { level: 1 }).innerText()).not.toBe(heading);
  }
  throw new Error(`The step ${last} never came.`);
}

describe.each([
  ['a phone', { width: 390, height: 844 }],
  ['a screen of 1280 × 800', { width: 1280, height: 800 }],
])('a mount led on %s', (where, viewport) => {
  it('through failure, remount and conditioning, and on after the page was killed', async () => {
    const tag = String(viewport.width);
    const rig = (await post('shelf/rigs', { name: `Bench ${tag}`, sheet: { contact: 'lid', contact_length_mm: 37, contact_width_mm: 37 } })).id;
    const material = (await post('shelf/materials', { name: `Wick ${tag}`, sheet: { kind: 'phase_change', conditioning_cycles: 4 } })).id;
    const paste = (await post('shelf/materials', { name: `Loam ${tag}`, sheet: { kind: 'paste', density_g_per_cm3: 2.5 } })).id;
    const study = (await post('studies', { title: `Mounts on ${where}`, question: '', margin_k: 1 })).id;
    await post(`studies/${study}/specimens`, { material_id: material });
    await post(`studies/${study}/specimens`, { material_id: paste });
    await fetch(`${app.url}/api/studies/${study}/plan`, {
      method: 'PATCH',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ base: 99, changes: { rigs: [rig], mounts: 2 } }),
    });
    await post(`studies/${study}/order`, { action: 'draw', seed: 1 });
    let page = await app.newPage({ viewport });
    await open(page, `${app.url}/studies/${study}/mounts`);
    await page.getByLabel('Your initials').fill('EB');
    await page.getByRole('button', { name: `Begin Wick ${tag} on Bench ${tag}` }).click();
    await page.waitForURL(/\/mounts\/\d+$/);
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    const address = page.url();
    // a grave caution holds the step until it is marked
    expect(await page.getByRole('button', { name: /^Done/ }).isDisabled()).toBe(true);
    await stepsUpTo(page, 'First start');
    await page.getByRole('button', { name: 'It did not work …' }).click();
    await page.getByLabel('Memory or a device is missing').check();
    await page.getByLabel('Why, as far as it is known').fill('Second bank absent, loose at one corner');
    await page.getByRole('button', { name: 'Keep this try, begin the next' }).click();
    await expect.poll(() => page.getByRole('heading', { level: 1 }).innerText()).toBe('Disconnect');
    expect(await page.locator('main').innerText()).toMatch(/1: Memory or a device is missing[\s\S]*Second bank absent/);
    await stepsUpTo(page, 'Apply');
    await page.getByLabel('Lot').fill('W60-2611');
    await page.getByLabel('Note').focus();
    // the page is killed in the middle; the next one goes on where it was
    await expect
      .poll(async () => (await (await fetch(`${app.url}/api${new URL(address).pathname}`)).json()).current?.steps.apply?.records?.lot)
      .toBe('W60-2611');
    await page.context().close();
    page = await app.newPage({ viewport });
    await open(page, address);
    expect(await page.getByRole('heading', { level: 1 }).innerText()).toBe('Apply');
    expect(await page.getByLabel('Lot').inputValue()).toBe('W60-2611');
    await stepsUpTo(page, 'Condition');
    await page.getByText('4 cycles of heating and cooling.').waitFor();
    expect(await page.getByRole('timer').innerText()).toBe('02:40:00');
    await page.getByRole('button', { name: 'Start the clock' }).click();
    await expect.poll(() => page.getByRole('timer').innerText(), { timeout: 5000 }).toMatch(/^02:39:5\d$/);
    await page.getByLabel('Cycles made').fill('many');
    await page.getByRole('button', { name: /^Done/ }).click();
    await page.getByText('Cycles made is a number.').waitFor();
    expect(await page.getByLabel('Cycles made').inputValue()).toBe('many');
    await page.getByLabel('Cycles made').fill('4');
    await page.getByRole('button', { name: /^Done/ }).click();
    await page.getByRole('button', { name: 'The mount is ready for its runs' }).click();
    await page.getByText('This mount is ready.').waitFor();
    await open(page, `${app.url}/studies/${study}/mounts`);
    expect(await page.locator('main').innerText()).toContain('1 of 2 tries failed');
    await page.getByRole('link', { name: `Wick ${tag} mount 1: ready, no run yet, 1 failed` }).waitFor();
    await page.getByRole('button', { name: `Begin Loam ${tag} on Bench ${tag}` }).waitFor();
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(viewport.width);
  });
});
