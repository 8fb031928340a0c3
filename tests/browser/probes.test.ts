import { mkdtempSync, writeFileSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { accessFaults } from './access.ts';
import { type App, open, startApp } from './app.ts';

/** Two probes in a glass of water, in three stretches, until the sheet of one has its offset. */
let app: App;
let page: Page;
const folder = mkdtempSync(path.join(os.tmpdir(), 'warm-gauge-probes-'));

/** A log of three minutes in which the second probe reads 0.31 K too high, give or take the place it lies in. */
function stretch(name: string, place: number): string {
  const rows = Array.from({ length: 180 }, (_, s) => {
    const noise = 0.01 * Math.sin(97 * s);
    const time = new Date(Date.UTC(2026, 10, 30, 9, 0, s)).toISOString();
    return `${time},${(22 + noise).toFixed(2)},${(22.31 + place - noise).toFixed(2)}`;
  });
  const file = path.join(folder, `${name}.csv`);
  writeFileSync(file, ['Time,Room A (°C),Probe B (°C)', ...rows].join('\n'));
  return file;
}

beforeAll(async () => {
  app = await startApp('empty');
  page = await app.newPage();
});
afterAll(() => app.stop());

const said = () => page.getByTestId('probes').innerText();

describe('probes in one place', () => {
  it('are compared, and what one reads too high goes to its sheet', async () => {
    for (const [name, sheet] of [
      ['Room A', { reads: 'temperature', accuracy: 0.1 }],
      ['Probe B', { reads: 'temperature', offset: 5, note: 'kept' }],
      ['Wall meter', { reads: 'power' }],
    ] as const) {
      const made = await fetch(`${app.url}/api/shelf/instruments`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ name, sheet }),
      });
      expect(made.status).toBe(201);
    }
    await open(page, `${app.url}/tools/probes`);
    expect(await accessFaults(page, 'practice')).toEqual([]);
    const input = page.getByLabel('Logs, a file for each stretch');
    await input.setInputFiles([stretch('first', 0)]);
    await expect.poll(said).toMatch(/Probe B reads 0\.3[01]\d* ± 0\.0\d+\sK too high/);
    await page.getByText('One stretch does not tell').waitFor();
    await input.setInputFiles([stretch('first', 0), stretch('second', 0.02), stretch('third', -0.02)]);
    await expect.poll(said).toContain('3 stretches');
    await expect.poll(() => page.getByText('One stretch does not tell').count()).toBe(0);
    await page.getByLabel('Compared with').selectOption('Probe B');
    await expect.poll(said).toMatch(/Room A reads 0\.3[01]\d* ± 0\.0\d+\sK too low/);
    await page.getByLabel('Compared with').selectOption('Room A');
    // a probe is its instrument by its name
    expect(await page.getByLabel('Instrument of Probe B').locator('option').allInnerTexts()).not.toContain('Wall meter');
    expect(await accessFaults(page, 'practice')).toEqual([]);
    await page.getByRole('button', { name: /Write −0\.31\sK to the sheet/ }).click();
    await page.getByText(/Probe B: −0\.3[01]\d*\sK is added to its readings/).waitFor();
    const page2 = await app.newPage();
    await page2.goto(`${app.url}/shelf/instruments`);
    await page2.getByRole('link', { name: 'Probe B' }).click();
    await page2.waitForURL(/\/shelf\/instruments\/\d+$/);
    const offset = async () => Number((await page2.getByLabel('Calibration offset').inputValue()).replace('−', '-'));
    await expect.poll(offset).toBeCloseTo(-0.31, 1);
    expect(Number(await page2.getByLabel('Accuracy').inputValue())).toBeGreaterThan(0.1);
    await expect.poll(() => page2.getByLabel('Note').inputValue()).toBe('kept');
    await expect.poll(() => page2.getByLabel('Calibrated on').inputValue()).toMatch(/^2\d{3}-\d\d-\d\d$/);
  });

  it('a file with one probe is told, and the others are compared', async () => {
    const one = path.join(folder, 'one.csv');
    writeFileSync(one, `Time,Room A (°C)\n${Array.from({ length: 30 }, (_, s) => `${s},22.0${s % 3}`).join('\n')}`);
    await page.getByLabel('Logs, a file for each stretch').setInputFiles([one, stretch('first', 0)]);
    await expect.poll(() => page.getByRole('alert').first().innerText()).toContain('one.csv has one column of temperatures');
    expect(await said()).toContain('Probe B');
  });
});
