import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { accessFaults } from './access.ts';
import { type App, open, startApp } from './app.ts';
import { handsOn } from './hands.ts';

let app: App;
let page: Page;
beforeAll(async () => {
  app = await startApp('empty');
  page = await app.newPage();
});
afterAll(async () => app.stop());

const faults = () => accessFaults(page);

describe('starting from a question', () => {
  it('asks three things, says the rest in sentences, and leads to the plan', async () => {
    await open(page, app.url);
    await page.getByRole('link', { name: 'Start a study' }).click();
    await page.waitForURL(/\/studies\/new$/);
    await open(page, page.url());
    expect(await faults()).toEqual([]);
    const hands = handsOn(page);
    await hands.press(/^Which material runs coolest\?/);
    await expect.poll(() => page.getByText('Name at least one.').isVisible()).toBe(true);
    await hands.fill('Materials', 'Amber nine\nBirch two\nCedar');
    await hands.fill('Bench days at hand', '2');
    await expect.poll(() => page.getByLabel('Title').inputValue()).toBe('Amber nine, Birch two and Cedar');
    await page.getByText('2 mounts of each with 3 runs, in random order.').waitFor();
    expect(await faults()).toEqual([]);
    await hands.press('Start the study');
    await page.waitForURL(/\/studies\/\d+\/plan$/);
    expect(hands.count).toEqual({ clicks: 2, fields: 2 });
    await page.getByRole('button', { name: 'Rename Cedar' }).waitFor();
    await expect.poll(() => page.getByLabel('Mounts of each', { exact: true }).inputValue()).toBe('2');
  });

  it('has the other questions, by keyboard and on a phone', async () => {
    await page.setViewportSize({ width: 390, height: 844 });
    await open(page, `${app.url}/studies/new`);
    await page.getByRole('button', { name: /^How far does it clock\?/ }).focus();
    await page.keyboard.press('Enter');
    await page.getByLabel('What is compared').fill('Amber nine, Birch two');
    await page.getByLabel('Highest clock / MHz').fill('1000');
    await expect.poll(() => page.getByText('the highest not below the lowest').isVisible()).toBe(true);
    await page.getByLabel('Highest clock / MHz').fill('2350');
    await page.getByText(/8 steps of 50 MHz/).waitFor();
    expect(await faults()).toEqual([]);
    expect(await page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true);
    await page.getByRole('button', { name: 'Start the study' }).click();
    await page.waitForURL(/\/plan$/);
    await page.setViewportSize({ width: 1280, height: 800 });
  });

  it('takes a study as a template of one’s own, which is deleted and put back', async () => {
    await open(page, page.url());
    await page.getByRole('button', { name: /^More about/ }).click();
    await page.getByRole('menuitem', { name: 'Save as a template' }).click();
    await page.getByText(/is a template: studies can be started from its plan/).waitFor();
    await open(page, `${app.url}/studies/new`);
    await Promise.all([page.waitForEvent('load'), page.getByRole('button', { name: /^Delete the template/ }).click()]);
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    await page.getByText(/^The template .* is deleted\./).waitFor();
    await expect.poll(() => page.getByRole('heading', { name: 'Your own templates' }).count()).toBe(0);
    await Promise.all([page.waitForEvent('load'), page.getByRole('button', { name: 'Undo', exact: true }).click()]);
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    await page.getByRole('button', { name: /^How far Amber nine and Birch two clock/ }).click();
    await page.waitForURL(/\/studies\/\d+\/plan$/);
    await expect.poll(() => page.getByRole('link', { name: /clock \(2\)$/ }).isVisible()).toBe(true);
  });
});
