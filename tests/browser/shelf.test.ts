import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type App, open, startApp } from './app.ts';

let app: App;
let page: Page;
beforeAll(async () => {
  app = await startApp();
  page = await app.newPage({ acceptDownloads: true });
});
afterAll(() => app.stop());

const csv = (text: string) => ({ name: 'materials.csv', mimeType: 'text/csv', buffer: Buffer.from(text) });
const rows = async () =>
  (await page.getByRole('region', { name: 'Table of materials' }).getByRole('row').allInnerTexts())
    .slice(1)
    .map((r) => r.split('\t')[0].trim());

describe('the shelf', () => {
  it('says what belongs on an empty one, and takes a file', async () => {
    await open(page, `${app.url}/shelf/materials`);
    await page.getByText('Add the first one, or import a CSV').waitFor();
    await page
      .locator('input[type=file][accept*=csv]')
      .setInputFiles(csv('name,kind,price\nLoam White,paste,"11,80"\nTarn,liquid_metal,dear\n'));
    await page.getByText('Row 3, column "price": "dear" is not a number.').waitFor();
    expect(await (await fetch(`${app.url}/api/shelf/materials`)).json()).toEqual([]);
    await page
      .locator('input[type=file][accept*=csv]')
      .setInputFiles(csv('name,kind,price\nLoam White,paste,"11,80"\nTarn,liquid_metal,13.6\nWick 60,phase_change,12.5\n'));
    await page.getByRole('link', { name: 'Wick 60' }).waitFor();
    expect(await rows()).toEqual(['Loam White', 'Tarn', 'Wick 60']);
  });

  it('searches, filters, sorts, and gives its sheets as a file', async () => {
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    await page.getByPlaceholder('Search materials').fill('phase');
    expect(await rows()).toEqual(['Wick 60']);
    await page.getByPlaceholder('Search materials').fill('nothing like it');
    await page.getByText('Nothing on this shelf matches.').waitFor();
    await page.getByPlaceholder('Search materials').fill('');
    await page.getByRole('combobox').selectOption('liquid_metal');
    expect(await rows()).toEqual(['Tarn']);
    await page.getByRole('combobox').selectOption('');
    await page.getByRole('button', { name: 'Price' }).click();
    await page.getByRole('button', { name: 'Price' }).click();
    const byPrice = await rows();
    expect([byPrice, [...byPrice].reverse()]).toContainEqual(['Tarn', 'Wick 60', 'Loam White']);
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'CSV', exact: true }).click()]);
    expect(download.suggestedFilename()).toBe('materials.csv');
  });

  it('keeps what was typed where a rule is broken, and stores it once it is kept', async () => {
    await page.getByRole('link', { name: 'Loam White' }).click();
    await page.waitForURL(/\/shelf\/materials\/\d+$/);
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    await page.getByLabel('Density / g/cm³').fill('250');
    await page.getByRole('button', { name: 'Save' }).click();
    await page.getByText('Density should be between 0.1 and 25 g/cm³.').waitFor();
    await expect.poll(() => page.getByLabel('Density / g/cm³').inputValue()).toBe('250');
    await page.getByLabel('Density / g/cm³').fill('2,5');
    await page.getByRole('button', { name: 'Save' }).click();
    await page.getByText('Saved.').waitFor();
    const [sheet] = await (await fetch(`${app.url}/api/shelf/materials`)).json();
    expect(sheet.sheet).toEqual({ kind: 'paste', price: 11.8, density_g_per_cm3: 2.5 });
  });

  it('shows what somebody else saved meanwhile beside one’s own, and overwrites only on a second word', async () => {
    const id = Number(page.url().split('/').at(-1));
    const put = (sheet: object, version: number) =>
      fetch(`${app.url}/api/shelf/materials/${id}`, {
        method: 'PUT',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ name: 'Loam White', sheet, version }),
      });
    const { row } = await (await fetch(`${app.url}/api/shelf/materials/${id}`)).json();
    expect((await put({ ...row.sheet, price: 9 }, row.version)).status).toBe(200);
    await page.getByLabel('Price', { exact: true }).fill('10');
    await page.getByRole('button', { name: 'Save' }).click();
    await page.getByText('Somebody else saved Loam White meanwhile.').waitFor();
    await page.getByText('now stored: 9').waitFor();
    expect((await (await fetch(`${app.url}/api/shelf/materials/${id}`)).json()).row.sheet.price).toBe(9);
    await page.getByRole('button', { name: 'Save' }).click();
    await page.getByText('Saved.').waitFor();
    expect((await (await fetch(`${app.url}/api/shelf/materials/${id}`)).json()).row.sheet.price).toBe(10);
  });

  it('copies, archives and brings back', async () => {
    await page.getByRole('button', { name: 'Duplicate' }).click();
    await page.waitForURL((url) => !url.pathname.endsWith('/1'));
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    await expect.poll(() => page.getByLabel('Name of the material').inputValue()).toBe('Loam White (2)');
    await page.getByRole('button', { name: 'Archive' }).click();
    await page.getByText('Archived: kept for its history').waitFor();
    await open(page, `${app.url}/shelf/materials`);
    expect(await rows()).not.toContain('Loam White (2)');
    await page.getByLabel(/archived/i).check();
    expect(await rows()).toContain('Loam White (2)');
  });

  it('refers to other sheets, and follows an instrument out of date into its findings', async () => {
    const post = async (section: string, body: object) =>
      (
        await (
          await fetch(`${app.url}/api/shelf/${section}`, {
            method: 'POST',
            headers: { 'content-type': 'application/json' },
            body: JSON.stringify(body),
          })
        ).json()
      ).id;
    const meter = await post('instruments', {
      name: 'Room thermometer B',
      sheet: { reads: 'temperature', resolution: 0.01, calibrated_until: '2020-01-01' },
    });
    await open(page, `${app.url}/shelf/rigs/new`);
    await page.getByLabel('Name of the rig').fill('South bench');
    await page.getByLabel('Room thermometer B').check();
    await page.getByRole('button', { name: 'Put the rig on the shelf' }).click();
    await page.waitForURL(/\/shelf\/rigs\/\d+$/);
    const [rig] = await (await fetch(`${app.url}/api/shelf/rigs`)).json();
    expect(rig.sheet.instruments).toEqual([meter]);
    await open(page, `${app.url}/shelf/instruments/${meter}`);
    await page.getByText('The calibration of Room thermometer B was valid until 2020-01-01').waitFor();
  });
});

describe('the parts of a plan', () => {
  it('keep conditions, loads, outcomes, interim analyses, headroom and cost, and compute with them', async () => {
    const post = async (path: string, body: object) =>
      (
        await fetch(`${app.url}/api/${path}`, {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify(body),
        })
      ).json();
    const { id } = await post('studies', { title: 'Parts', question: '', margin_k: 1 });
    for (const name of ['Loam White', 'Wick 60']) await post(`studies/${id}/specimens`, { name, kind: 'paste' });
    await open(page, `${app.url}/studies/${id}/plan`);
    const plan = async () => (await (await fetch(`${app.url}/api/studies/${id}/plan`)).json()).plan;
    await page.locator('summary', { hasText: 'Controlled conditions' }).click();
    await page.getByRole('button', { name: 'Add condition' }).click();
    await page.getByText('A condition has a name of 1 to 80 characters.').waitFor();
    await page.getByLabel('What', { exact: true }).fill('Fan');
    await page.getByLabel('At', { exact: true }).fill('1200 rpm');
    await page.locator('summary', { hasText: 'Loads' }).click();
    await page.getByRole('button', { name: 'Add load' }).click();
    await page.getByLabel('Name', { exact: true }).last().fill('Correlate');
    await page.getByLabel('min', { exact: true }).nth(1).fill('35');
    await page.getByText('Stability ladder: none').click();
    await page.getByRole('button', { name: 'Add ladder step' }).click();
    await page.locator('summary', { hasText: 'Outcomes' }).click();
    await page.getByRole('button', { name: 'Add outcome' }).click();
    await page.locator('summary', { hasText: 'Methods' }).click();
    await page.getByLabel('Fans', { exact: true }).selectOption('automatic');
    await page.locator('summary', { hasText: 'Interim analyses' }).click();
    await page.getByLabel('Analyse after so many mounts of each').fill('2, 3.5');
    await page.getByText('These are whole numbers of mounts, such as 2, 3.').waitFor();
    await page.getByLabel('Analyse after so many mounts of each').fill('2, 3');
    await page.getByText('Everything is stored.').waitFor();
    await expect.poll(plan).toMatchObject({
      held: [{ what: 'Fan', value: '1200 rpm' }],
      loads: [{ name: 'Correlate', steps: [{ minutes: 5 }, { minutes: 35 }, { minutes: 10 }], ladder: [{ clock_mhz: 2000 }] }],
      outcomes: [{ key: 'r_k_per_w', margin: 0.01 }],
      fan_school: 'automatic',
      looks: [2, 3],
    });
    await page.getByText('One run takes 50 min.').waitFor();
    expect(await page.getByLabel('One run with cool-down / min').getAttribute('placeholder')).toBe('50');
    await expect.poll(() => page.getByTestId('plan-findings').innerText()).toMatch(/An automatic fan curve holds the temperature/);
    // O'Brien-Fleming-type spending at two and three of five blocks
    const levels = await page.locator('#interim table').innerText();
    expect(levels.split('\n').map((l) => l.split('\t')[0])).toEqual(['After mounts of each', '2', '3', '5']);
    expect(levels).toMatch(/5\.000$/m);
    await page.locator('#cost > summary').click();
    await page.getByLabel('Tools, once of Wick 60').fill('30');
    await page.getByLabel('Work', { exact: true }).fill('60');
    await expect.poll(() => page.locator('#cost').innerText()).toMatch(/280\.00[\s\S]*tools, once 30\.00, work 250\.00/);
  });
});
