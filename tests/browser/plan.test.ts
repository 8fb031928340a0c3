import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type App, open, startApp } from './app.ts';
import { choose, press, tabTo, type } from './byKeyboard.ts';

const alive = (page: Page) => page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
const stored = (page: Page) => page.getByText('Everything is stored.').waitFor();

describe('a study planned with the keyboard alone', () => {
  let app: App;
  let page: Page;
  beforeAll(async () => {
    app = await startApp();
    page = await app.newPage();
  });
  afterAll(() => app.stop());

  it('goes from an empty store to a day sheet', async () => {
    await open(page, app.url);
    for (const [section, name, fill] of [
      ['Rigs', 'North bench', async () => type(page, 'Throttle limit / °C', '92')],
      ['Materials', 'Loam White', async () => choose(page, 'Kind', 'Paste')],
      [
        'Materials',
        'Tarn',
        async () => {
          await choose(page, 'Kind', 'Liquid');
          await type(page, 'Conditioning or cure / h', '0.5');
        },
      ],
    ] as [string, string, () => Promise<void>][]) {
      await press(page, 'link', 'Shelf');
      await page.waitForURL(/\/shelf\/materials$/);
      await alive(page);
      if (section !== 'Materials') {
        await press(page, 'link', section);
        await page.waitForURL(/\/shelf\/rigs$/);
        await alive(page);
      }
      await press(page, 'link', /^Add an? /);
      await page.waitForURL(/\/new$/);
      await alive(page);
      await type(page, /^Name of the /, name);
      await fill();
      await press(page, 'button', /on the shelf$/);
      await page.waitForURL(/\/shelf\/\w+\/\d+$/);
    }
    await press(page, 'link', 'Studies');
    await page.waitForURL(/\/studies$/);
    await alive(page);
    await type(page, 'Title', 'Two fillers');
    await press(page, 'button', 'Start the study');
    await page.waitForURL(/\/plan$/);
    await alive(page);
    for (const name of ['Loam White', 'Tarn']) {
      await choose(page, 'From the shelf', name);
      await press(page, 'button', /^Add (another )?material$/);
      await page.getByLabel(`${name} is the reference`).waitFor();
    }
    const headline = () => page.getByTestId('plan-headline').innerText();
    await expect.poll(headline).toMatch(/^5 mounts each find [\d.]+ K/);
    await type(page, 'Mounts of each', '3');
    await expect.poll(headline).toMatch(/^3 mounts each find [\d.]+ K; for 1 K it takes \d+ each\.$/);
    await tabTo(page, page.getByLabel('North bench'));
    await page.keyboard.press('Space');
    await tabTo(page, page.getByLabel('First day'));
    await page.keyboard.type('06052026');
    await stored(page);
    await press(page, 'button', 'Draw the order');
    await page
      .getByTestId('plan-sentence')
      .getByText(/hours over \d days from Fri 5 Jun 2026/)
      .waitFor();
    await tabTo(page, page.locator('#order > summary'));
    await page.keyboard.press('Enter');
    const order = page.getByTestId('order');
    await order.getByRole('button').first().waitFor();
    expect(await order.innerText()).toContain('Fri 5 Jun');
    // a mount is picked up, taken to the next day, and put down; undo brings it back
    const second = order.getByRole('button').nth(1);
    const name = ((await second.getAttribute('aria-label')) ?? '').split(',')[0];
    await tabTo(page, second);
    const before = await order.innerText();
    await page.keyboard.press('Enter');
    await page.keyboard.press('ArrowDown');
    await page.getByText(new RegExp(`${name}: day 2, North bench`)).waitFor();
    await page.keyboard.press('Enter');
    await page.getByText(`${name} moved.`).waitFor();
    expect(await order.innerText()).not.toBe(before);
    await expect.poll(() => page.getByTestId('plan-findings').innerText()).toMatch(/Day unbalanced/);
    await press(page, 'button', 'Undo');
    await expect.poll(() => order.innerText()).toBe(before);
    await press(page, 'link', 'Day sheet');
    await page.waitForURL(/\/days\/1$/);
    const sheet = await page.getByTestId('day-sheet').innerText();
    expect(sheet).toMatch(/09:00–/);
    expect(sheet).toContain('Tarn');
    expect(await page.locator('main').innerText()).toContain('Liquid metal shorts what it touches and destroys aluminium');
  });

  it('shows each of two editors what the other changed, and overwrites nothing', async () => {
    const mine = await app.newPage();
    const theirs = await app.newPage();
    await open(mine, `${app.url}/studies/1/plan`);
    await open(theirs, `${app.url}/studies/1/plan`);
    await theirs.getByLabel('Smallest difference that matters / K').fill('1.5');
    await mine.getByText('Changed by somebody else just now: Smallest difference that matters.').waitFor();
    await expect.poll(() => mine.getByLabel('Smallest difference that matters / K').inputValue()).toBe('1.5');
    // both change the same field before they can see each other: the later one is told
    const version = (await (await fetch(`${app.url}/api/studies/1/plan`)).json()).version;
    await mine.route('**/api/studies/1/plan?known=*', (route) => route.fulfill({ status: 204 }));
    await fetch(`${app.url}/api/studies/1/plan`, {
      method: 'PATCH',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ base: version, changes: { mounts: 7 } }),
    });
    await mine.getByLabel('Mounts of each', { exact: true }).fill('9');
    await mine.getByText('Somebody else wrote 7 here meanwhile.').waitFor();
    await expect.poll(() => mine.getByLabel('Mounts of each', { exact: true }).inputValue()).toBe('9');
    await mine.getByRole('button', { name: 'Store mine' }).click();
    await expect.poll(async () => (await (await fetch(`${app.url}/api/studies/1/plan`)).json()).plan.mounts).toBe(9);
    await mine.getByLabel('Mounts of each', { exact: true }).fill('3');
    await stored(mine);
  });

  it('keeps what breaks a rule in its field with a sentence, and tells what is impossible with the nearest plan', async () => {
    await open(page, `${app.url}/studies/1/plan`);
    const field = page.getByLabel('Mounts of each', { exact: true });
    await field.fill('lots');
    await page.getByText('"lots" is not a number.').waitFor();
    await field.fill('900');
    await page.getByText('Mounts of each should be a whole number between 1 and 200.').waitFor();
    await page.waitForTimeout(900);
    await expect.poll(() => field.inputValue()).toBe('900');
    expect((await (await fetch(`${app.url}/api/studies/1/plan`)).json()).plan.mounts).toBe(3);
    await field.fill('3');
    await page
      .getByTestId('plan-sentence')
      .getByText(/North bench/)
      .click();
    await page.getByLabel('Bench day / h').fill('1');
    const findings = page.getByTestId('plan-findings');
    await expect.poll(() => findings.innerText()).toMatch(/takes 2\.4 h; a bench day has 1 h\.[\s\S]*A day of 2\.5 h\./);
    await page.getByLabel('Bench day / h').fill('8');
    await page.locator('summary', { hasText: 'Headroom' }).click();
    await page.getByLabel('Warmest room allowed / °C').fill('30');
    await page.getByLabel('Worst resistance to expect / K/W').fill('0.5');
    await page.getByLabel('Planned load / W').fill('150');
    await expect.poll(() => findings.innerText()).toMatch(/A load of 114 W/);
    await stored(page);
  });

  it('rehearses beside the page, with progress, and can be cancelled', async () => {
    await open(page, `${app.url}/studies/1/plan#rehearsal`);
    const start = page.getByRole('button', { name: /^Rehearse/ });
    await start.click();
    await page.getByText(/\d of 2,000 studies simulated/).waitFor();
    // the page answers while the worker works
    await page.getByLabel('Smallest difference that matters / K').fill('2');
    await expect.poll(() => page.getByTestId('plan-headline').innerText()).toContain('2 K');
    await page.getByRole('button', { name: 'Cancel' }).click();
    await page.getByText('Cancelled.').waitFor();
    await start.click();
    await page.getByTestId('rehearsal').waitFor();
    expect(await page.getByTestId('rehearsal').innerText()).toMatch(/[\d.]+ % of the verdicts come out right/);
  });

  it('moves a mount by drag, and marks one as failed with its reason', async () => {
    await open(page, `${app.url}/studies/1/plan#order`);
    const order = page.getByTestId('order');
    const chip = order.getByRole('button').nth(1);
    const label = ((await chip.getAttribute('aria-label')) ?? '').split(',')[0];
    await chip.scrollIntoViewIfNeeded();
    const from = await chip.boundingBox();
    const to = await order.locator(':scope > div').last().boundingBox();
    if (!from || !to) throw new Error('The order is not drawn.');
    await page.mouse.move(from.x + 20, from.y + 15);
    await page.mouse.down();
    await page.mouse.move(from.x + 60, from.y + 40, { steps: 4 });
    await page.mouse.move(to.x + 400, to.y + 15, { steps: 8 });
    await page.mouse.up();
    await page.getByText(`${label} moved.`).waitFor();
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
    await page.getByText(`${label} moved.`).waitFor({ state: 'detached' });
    const before = await order.getByRole('button').count();
    await order.getByRole('button', { name: new RegExp(`^${label},`) }).click();
    await page.getByLabel('What happened').fill('Leaked at one corner');
    await page.getByRole('button', { name: 'Failed: plan another' }).click();
    await order.getByRole('button', { name: new RegExp(`^${label}, .*failed`) }).waitFor();
    await expect.poll(() => order.getByRole('button').count()).toBe(before + 1);
    await page.getByText('Leaked at one corner').waitFor();
    await page.getByRole('button', { name: 'Undo', exact: true }).click();
    await order.getByRole('button', { name: new RegExp(`^${label}, .*planned`) }).waitFor();
    await expect.poll(() => order.getByRole('button').count()).toBe(before);
  });
});
