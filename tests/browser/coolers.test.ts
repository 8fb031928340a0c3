import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type App, open, startApp } from './app.ts';

let app: App;
let page: Page;
beforeAll(async () => {
  app = await startApp('demo');
  page = await app.newPage();
});
afterAll(() => app.stop());

const plain = (text: string) => text.replaceAll('−', '-').replace(/\s+/g, ' ');

describe('the layers of a step', () => {
  const choose = (which: RegExp, run: string) => page.getByLabel(which).selectOption({ label: run });
  const said = async () => plain(await page.getByTestId('transient').innerText());

  it('are told of one mount, with how far the reading is', async () => {
    await open(page, `${app.url}/tools/transient`);
    await choose(/^First mount/, 'Bramble 5, mount 1, run 1 (every 0.1 s)');
    await page.getByRole('button', { name: 'Read the layers' }).click();
    await page.getByRole('figure', { name: /^Stored heat/ }).waitFor();
    expect(await said()).toMatch(
      /^From Die 1 to the room 0\.\d{3} K\/W in (three|four) layers; the largest, 0\.\d{3} K\/W, is the last one, into the room\./,
    );
  });
  it('part in two mounts at the interface that pumped out, not at the cooler', async () => {
    await choose(/^Second mount/, 'Bramble 5, mount 1, run 5 (every 0.1 s)');
    await page.getByRole('button', { name: 'Lay one over the other' }).click();
    await expect
      .poll(said)
      .toMatch(/^An interface, not the cooler: Bramble 5, mount 1, run 5 runs 1\.\d K warmer than Bramble 5, mount 1, run 1 at 12\d W\./);
    // the simulated rig has 0.0645 K/W between its hottest sensor and the interface, of 0.3 in all
    const at = Number(/They part (0\.\d+) K\/W/.exec(await said())?.[1]);
    expect(Math.abs(at - 0.0645)).toBeLessThan(0.05 * 0.3);
    await expect.poll(() => page.getByRole('region', { name: /^Layers of/ }).count()).toBe(2);
    expect(await page.locator('main').innerText()).not.toContain('NaN');
  });
  it('are refused where the log is too slow, with what would be right', async () => {
    await choose(/^Second mount/, 'none');
    await choose(/^First mount/, 'Wick 60, mount 4, run 5 (every 5 s)');
    await page.getByRole('button', { name: 'Read the layers' }).click();
    await expect
      .poll(said)
      .toMatch(/^No answer from this log\. Logged every 5\.0 s, \d\d % of the rise comes faster .* Log every 0\.5 s or faster\./);
    await expect.poll(() => page.getByRole('figure', { name: /^Stored heat/ }).count()).toBe(0);
  });
  it('are read from a log on the disk, and refused where it is none', async () => {
    const input = page.getByRole('group', { name: 'First mount' }).locator('input[type=file]');
    await input.setInputFiles({ name: 'notes.csv', mimeType: 'text/csv', buffer: Buffer.from('a,b\nc,d\n') });
    await page.getByRole('button', { name: 'Read the layers' }).click();
    await page.getByRole('alert').filter({ hasText: 'notes.csv' }).waitFor();
  });
});

describe('coolers beside each other', () => {
  it('tell their build and price, and which does not fit', async () => {
    await open(page, `${app.url}/studies/4/coolers`);
    const build = page.getByRole('region', { name: 'Build, fit and price' });
    expect(plain(await build.innerText())).toContain(
      'Heron does not fit the hut bay: it is 160 mm high, 10 mm more than the 150 mm there are.',
    );
    expect(plain(await build.getByRole('row', { name: /^Weir 240/ }).innerText())).toMatch(
      /52 mm 1150 g 12 µm 96\.00 EUR fits air, and the pump close by/,
    );
  });
  it('are heard as strong as each other, and as loud as measured', async () => {
    const heard = page.getByRole('region', { name: 'To be heard' });
    const add = async (cooler: string, level: string) => {
      await heard.getByRole('button', { name: 'Add a clip' }).click();
      await heard
        .getByLabel('Clip, WAV')
        .setInputFiles({ name: `${cooler}.wav`, mimeType: 'audio/wav', buffer: tone(level === '' ? 0.01 : 0.2) });
      await heard.getByLabel('Cooler', { exact: true }).selectOption({ label: cooler });
      await heard.getByLabel('Fan / rpm').fill('1146');
      await heard.getByLabel('Level there / dB').fill(level);
      await heard.getByRole('button', { name: 'Keep the clip' }).click();
      await heard.getByRole('button', { name: `Play ${cooler}` }).waitFor();
    };
    await add('Heron', '32');
    await add('Plover', '');
    await heard.getByRole('button', { name: 'Play Plover' }).click();
    await heard.getByRole('button', { name: 'Stop Plover' }).waitFor();
    await heard.getByLabel('As loud as their measured levels').check();
    await heard.getByRole('button', { name: 'Play Plover' }).click();
    await heard.getByRole('alert').filter({ hasText: 'No level was measured' }).waitFor();
    await heard.getByRole('listitem').filter({ hasText: 'Plover' }).getByRole('button', { name: 'Take out' }).click();
    await heard.getByRole('button', { name: 'Put back' }).click();
    await heard.getByRole('button', { name: 'Play Plover' }).waitFor();
  });
  it('have a sheet to be measured by', async () => {
    await page.getByRole('link', { name: 'Sheet to measure a sweep by' }).click();
    await page.getByLabel('Speeds / rpm').fill('800, 1400');
    await page.getByRole('button', { name: 'Lay out' }).click();
    const sheet = page.getByTestId('sweep-sheet');
    await expect.poll(() => sheet.getByRole('row').count()).toBe(1 + 4 * 3 * 2);
    expect(await sheet.innerText()).toContain('Level / dB(A)');
  });
});

describe('a mount that is opened after its last measurement', () => {
  it('says what was found, and is not due any more', async () => {
    await open(page, `${app.url}/studies/6/ageing`);
    const due = page.getByRole('region', { name: 'To be measured next' });
    await due.getByRole('link', { name: 'Bramble 5, mount 2' }).click();
    await page.waitForURL(/\/mounts\/\d+$/);
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    await page.getByRole('button', { name: 'Record an opening …' }).click();
    await page.getByLabel('As it was made').check();
    await page.getByLabel('Pumped out').check();
    await page.getByLabel('Shifted').check();
    await expect.poll(() => page.getByLabel('As it was made').isChecked()).toBe(false);
    await page.getByLabel('Where, and how much').fill('towards the south edge');
    await page.getByRole('button', { name: 'Save opening' }).click();
    await page.getByText('Pumped out and shifted').waitFor();
    await open(page, `${app.url}/studies/6/ageing`);
    expect(plain(await page.getByRole('region', { name: 'Found on opening' }).innerText())).toContain(
      'Bramble 5, mount 2: pumped out and shifted, towards the south edge',
    );
    await expect.poll(() => due.getByRole('link', { name: 'Bramble 5, mount 2' }).count()).toBe(0);
    await expect.poll(() => due.getByRole('link', { name: 'Bramble 5, mount 1' }).count()).toBe(1);
  });
});

describe('parts with limits of their own', () => {
  it('are typed into the plan, and decide in the results', async () => {
    await open(page, `${app.url}/studies/7/plan`);
    await page.locator('summary', { hasText: 'Limits of single parts' }).click();
    const limits = page.getByLabel('Parts with own limits');
    await limits.fill('Core = 80');
    await limits.blur();
    await page.getByText(/^Limits are up to 12 parts/).waitFor();
    await limits.fill('Core: Die 1, Die 2 = 80; Edge: Die 3, Die 4 = 74');
    await limits.blur();
    await page.getByText('Core: Die 1, Die 2 = 80; Edge: Die 3, Die 4 = 74, in a room of 35 °C').waitFor();
    await page.getByText('Everything is stored.').waitFor();
    await open(page, `${app.url}/studies/7/results`);
    await expect
      .poll(async () => plain(await page.locator('main').innerText()))
      .toMatch(/Lid lapped: Edge decides, 0\.\d K (below|above) its limit in a room of 35 °C\./);
    await page.getByLabel('Outcome').selectOption({ label: 'Room to the nearest limit' });
    await page
      .getByRole('heading', { level: 1, name: /^Lid lapped stays 0\.\d K farther from its nearest limit than Lid as made/ })
      .waitFor();
  });
});

/** A second of a tone as a WAV file. */
function tone(amplitude: number): Buffer {
  const n = 16_000;
  const wav = Buffer.alloc(44 + 2 * n);
  wav.write('RIFF', 0);
  wav.writeUInt32LE(36 + 2 * n, 4);
  wav.write('WAVEfmt ', 8);
  wav.writeUInt32LE(16, 16);
  wav.writeUInt16LE(1, 20);
  wav.writeUInt16LE(1, 22);
  wav.writeUInt32LE(n, 24);
  wav.writeUInt32LE(2 * n, 28);
  wav.writeUInt16LE(2, 32);
  wav.writeUInt16LE(16, 34);
  wav.write('data', 36);
  wav.writeUInt32LE(2 * n, 40);
  for (let i = 0; i < n; i++) wav.writeInt16LE(Math.round(32_767 * amplitude * Math.sin((2 * Math.PI * 110 * i) / n)), 44 + 2 * i);
  return wav;
}
