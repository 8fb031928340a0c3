import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { GLOSSARY } from '#ui/glossary';
import { accessFaults } from './access.ts';
import { type App, open, startApp } from './app.ts';

let app: App;
let page: Page;
beforeAll(async () => {
  app = await startApp('demo');
  page = await app.newPage();
});
afterAll(async () => app.stop());

const faults = () => accessFaults(page);

describe('what a term means', () => {
  it('opens where the term stands, by keyboard too, and leads to the help', async () => {
    await open(page, `${app.url}/studies/1/results`);
    const info = page.getByRole('button', { name: 'What is firm?' });
    await info.focus();
    await page.keyboard.press('Enter');
    await page.getByText(GLOSSARY.firm.line).waitFor();
    expect(await faults()).toEqual([]);
    await page.keyboard.press('Escape');
    await page.getByText(GLOSSARY.firm.line).waitFor({ state: 'detached' });
    expect(await info.evaluate((e) => e === document.activeElement)).toBe(true);
    await page.getByRole('button', { name: 'What is a group?' }).click();
    await page.getByRole('link', { name: 'More in the help' }).click();
    await page.waitForURL(/\/help#group$/);
  });
  it('stands in the help, where it is looked for by its words, with keys and version', async () => {
    await open(page, `${app.url}/help`);
    for (const { name } of Object.values(GLOSSARY))
      await expect.poll(() => page.getByRole('term').filter({ hasText: name }).first().isVisible()).toBe(true);
    expect(await faults()).toEqual([]);
    await page.getByLabel('Look for a term').fill('lower bound');
    await expect.poll(() => page.locator('section[aria-labelledby=terms] dt').allInnerTexts()).toEqual(['throttled']);
    await page.getByLabel('Look for a term').fill('xyzzy');
    await page.getByText('Nothing in the help contains “xyzzy”.').waitFor();
    await expect.poll(() => page.getByText('Warm Gauge 0.1.0').isVisible()).toBe(true);
  });
});

describe('an address that takes other requests', () => {
  it('says so, and one that is nothing says no more than it knows', async () => {
    const wrong = await fetch(`${app.url}/api/places`, { method: 'DELETE', headers: { origin: app.url } });
    expect(wrong.status).toBe(405);
    expect(await wrong.json()).toEqual({ error: 'This address does not take DELETE.' });
    await open(page, `${app.url}/studies/99999/plan`);
    expect(await page.locator('main').innerText()).toContain('The address may have a slip, or what stood here was moved or deleted.');
    expect(await faults()).toEqual([]);
  });
});
