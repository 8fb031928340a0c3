import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type App, open, startApp } from './app.ts';
import { press, tabTo, type } from './byKeyboard.ts';
import { elevenRuns } from './elevenRuns.ts';

let app: App;
beforeAll(async () => {
  app = await startApp('empty');
});
afterAll(async () => app.stop());

describe('a first study by keyboard alone', () => {
  it('goes from files to a published report', async () => {
    const page = await app.newPage();
    await open(page, app.url);
    // the dialog is the system's
    const dialog = page.waitForEvent('filechooser');
    await press(page, 'button', 'Add a log');
    await (await dialog).setFiles(
      elevenRuns((thing, mount, run) => `${thing}_mount${mount}_run${run}.csv`).map(({ name, bytes }) => ({
        ...{ name, mimeType: 'text/csv', buffer: Buffer.from(bytes) },
      })),
    );
    await page.getByRole('button', { name: 'Store 11 runs' }).waitFor();
    await page.getByText(/^Reading \d/).waitFor({ state: 'hidden' });
    await type(page, 'Title of the new study', 'Three fillers by hand');
    await press(page, 'button', 'Store 11 runs');
    await page.waitForURL(/\/studies\/\d+\/results/);
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    expect(await page.getByRole('heading', { level: 1 }).innerText()).toMatch(/^Amber nine runs 2\.\d\sK cooler than Birch two/);
    // a choice, which its address keeps
    await tabTo(page, page.getByRole('combobox', { name: 'Pairs', exact: true }));
    await page.keyboard.type('With');
    await expect.poll(() => page.url()).toContain('pairs=reference');
    await press(page, 'link', 'Report');
    await page.waitForURL(/\/report$/);
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    await press(page, 'button', 'Publish version 1 …');
    await type(page, 'Author', 'Thornmere workshop');
    await press(page, 'button', /^Publish( anyway)?$/);
    await page.waitForURL(/\/reports\//);
    expect(await page.locator('main').innerText()).toContain('Thornmere workshop');
    expect(await page.locator('main').innerText()).toMatch(/Amber nine runs 2\.\d\sK cooler than Birch two/);
  });
});
