import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { accessFaults } from './access.ts';
import { type App, open, startApp } from './app.ts';

let app: App;
let page: Page;
beforeAll(async () => {
  app = await startApp('demo');
  page = await app.newPage();
});
afterAll(async () => app.stop());

const field = () => page.getByRole('combobox', { name: /^Study, specimen, material/ });
const options = () => page.getByRole('option');
const faults = () => accessFaults(page);
/** Looks for a text and gives what is found, as kind and name. */
async function found(text: string): Promise<string[]> {
  await field().fill(text);
  const { found: wanted } = await (await fetch(`${app.url}/api/search?q=${encodeURIComponent(text)}`)).json();
  // what was found for the text before may still stand
  await page
    .getByRole('status')
    .filter({ hasText: `${wanted.length} found` })
    .waitFor({ state: 'attached' });
  if (wanted.length > 0) await options().first().filter({ hasText: wanted[0].name }).waitFor();
  return (await options().allInnerTexts()).map((t) => t.split('\n').slice(0, 2).join(': '));
}

describe('search and go', () => {
  it('opens by its icon and by its keys, and finds what there is by name', async () => {
    await open(page, `${app.url}/studies/1/results`);
    await page.keyboard.press('/');
    await field().waitFor();
    await page.keyboard.press('Escape');
    await field().waitFor({ state: 'detached' });
    await page.keyboard.press('Control+k');
    await field().waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('button', { name: 'Search and go' }).click();
    // what was looked at last comes first
    expect(await options().first().innerText()).toContain('Eight materials on the TM-6 lid');
    expect(await found('wick')).toEqual(
      expect.arrayContaining(['Specimen: Wick 60', 'Material: Wick 60', expect.stringMatching(/^Mount: Wick 60, mount \d/)]),
    );
    expect(await faults()).toEqual([]);
    expect(await found('LO-2611')).toEqual(expect.arrayContaining([expect.stringMatching(/^Mount: Loam White, mount \d/)]));
    expect(await found('north')).toContain('Rig: North bench');
    expect((await found('flatness'))[0]).toBe('Tool: Flatness');
    expect((await found('.csv')).every((f) => f.startsWith('Run: '))).toBe(true);
    // nothing of the pattern language of the store is taken for one
    expect(await found('%')).toEqual([]);
    expect(await found('zzz_nothing')).toEqual([]);
    await expect.poll(() => page.getByText('Nothing is called “zzz_nothing”.').isVisible()).toBe(true);
    await found('eight materials');
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('ArrowUp');
    await page.keyboard.press('Enter');
    await page.waitForURL(/\/studies\/1\/results$/);
  });

  it('hears what is pressed before the page is alive', async () => {
    let release = () => {};
    const held = new Promise<void>((r) => {
      release = r;
    });
    await page.route('**/_astro/*.js', async (route) => {
      await held;
      await route.continue();
    });
    await page.goto(`${app.url}/studies`, { waitUntil: 'commit' });
    await page.getByRole('heading', { level: 1 }).waitFor();
    await page.keyboard.press('/');
    await expect.poll(() => field().count()).toBe(0);
    release();
    await field().waitFor();
    await page.unroute('**/_astro/*.js');
  });

  it('has keys for the commonest acts, told by ?, none while one types, and all can be turned off', async () => {
    await open(page, `${app.url}/studies/1/results`);
    await page.keyboard.press('?');
    await page.getByRole('heading', { name: 'Keys' }).waitFor();
    expect(await faults()).toEqual([]);
    await page.keyboard.press('Escape');
    await page.keyboard.press('m');
    await page.waitForURL(/\/studies\/1\/mounts$/);
    await open(page, page.url());
    await page.keyboard.press('w');
    await page.waitForURL(/\/studies\/1\/report$/);
    await open(page, page.url());
    await page.keyboard.press('e');
    await page.getByRole('dialog').waitFor();
    await page.getByRole('dialog').getByRole('textbox').first().focus();
    await page.keyboard.type('bsm');
    expect(page.url()).toMatch(/report$/);
    await page.keyboard.press('Escape');
    await page.keyboard.press('?');
    await page.getByLabel('Keys of one letter are on').uncheck();
    await page.keyboard.press('Escape');
    await page.keyboard.press('s');
    await page.waitForTimeout(400);
    expect(page.url()).toMatch(/report$/);
    // Ctrl+K is no key of one letter
    await page.keyboard.press('Control+k');
    await field().waitFor();
  });
});
