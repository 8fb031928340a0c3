import { readFileSync } from 'node:fs';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { findingName } from '#ui/FindingList.tsx';
import { accessFaults } from './access.ts';
import { type App, dropFiles, open, startApp } from './app.ts';

interface Case {
  name: string;
  files: string[];
  options: string[];
  truth: { rise_k?: number | null; valid?: boolean; expect_findings?: string[]; forbid_findings?: string[] };
  tolerance: { rise_k?: number };
}
const folder = new URL('../reference/logs/', import.meta.url);
const cases: Case[] = JSON.parse(readFileSync(new URL('cases.json', folder), 'utf8'));
const log = (name: string, as = name) => ({ name: as, bytes: new Uint8Array(readFileSync(new URL(name, folder))) });
const text = (name: string, content: string) => ({ name, bytes: new TextEncoder().encode(content) });

let app: App;
let page: Page;
beforeAll(async () => {
  app = await startApp();
  page = await app.newPage();
  await open(page, app.url);
});
afterAll(() => app.stop());

const settled = () =>
  page.waitForFunction(() => document.querySelector('section[aria-label="Value"]')?.getAttribute('aria-busy') === 'false');
const value = () => page.getByRole('region', { name: 'Value' });
const previewValue = async () => Number.parseFloat((await page.getByTestId('preview-value').innerText()).replace('−', '-'));
const putAway = () => page.keyboard.press('Escape');
async function storeNew(study: string, specimen = 'Loam White'): Promise<void> {
  await page.getByLabel('Title of the new study', { exact: true }).fill(study);
  await page.getByLabel('Name of the specimen', { exact: true }).fill(specimen);
  await page.getByLabel('Rig', { exact: true }).selectOption({ label: 'a new rig' });
  await page.getByLabel('Name of the rig', { exact: true }).fill(`Rig of ${study}`);
  await page.getByLabel('Throttle limit / °C', { exact: true }).fill('95');
  await page.getByRole('button', { name: 'Store this run' }).click();
  await page.waitForURL(/\/runs\/\d+$/);
  await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
}
const axe = () => accessFaults(page);

describe('the reference logs through the browser', () => {
  it.each(cases)('$name', async ({ files, options, truth, tolerance }) => {
    await dropFiles(
      page,
      files.map((f) => log(f)),
    );
    const option = (name: string) => (options.includes(name) ? options[options.indexOf(name) + 1] : null);
    if (truth.rise_k === undefined) {
      expect(await page.getByRole('alert').first().innerText()).toContain('no row of readings');
      await expect.poll(() => page.getByRole('button', { name: 'Store this run' }).isDisabled()).toBe(true);
      return putAway();
    }
    if (options.includes('--day-first')) await page.getByRole('button', { name: 'The day is first' }).click();
    await page.getByLabel('Throttle limit / °C', { exact: true }).fill(option('--limit') ?? '');
    await settled();
    const sensor = option('--sensor');
    if (sensor) await page.getByLabel('The run is evaluated by').selectOption(sensor);
    await settled();
    const codes = (list: string[] = []) => list.map(findingName);
    for (const name of codes(truth.expect_findings)) await value().getByText(name, { exact: true }).first().waitFor();
    for (const name of codes(truth.forbid_findings)) expect(await value().getByText(name, { exact: true }).count()).toBe(0);
    if (truth.rise_k === null) expect(await page.getByTestId('preview-value').innerText()).toBe('no rise');
    else {
      const { rise_k } = truth;
      await expect.poll(async () => Math.abs((await previewValue()) - Number(rise_k))).toBeLessThanOrEqual((tolerance.rise_k ?? 0) + 0.005);
    }
    const valid = await value().getByText('Not valid for a comparison').or(value().getByText('Throttled: at or above')).count();
    expect(valid === 0).toBe(truth.valid);
    await putAway();
  });
});

describe('two files on one clock', () => {
  it('are stored only when somebody has looked at the picture', async () => {
    await dropFiles(page, [log('host.csv'), log('bench.csv')]);
    await page.getByRole('heading', { name: 'One clock' }).waitFor();
    await page.getByText('Check that the steps line up.').waitFor();
    await expect.poll(() => page.getByRole('figure', { name: 'Clock of bench.csv' }).locator('path.recharts-line-curve').count()).toBe(2);
    await expect.poll(() => page.getByRole('button', { name: 'Store this run' }).isDisabled()).toBe(true);
    expect(await axe()).toEqual([]);
    await page.getByLabel('The steps agree').check();
    await expect.poll(() => page.getByRole('button', { name: 'Store this run' }).isEnabled()).toBe(true);
    // moved by hand, the room comes at other times and the clock is the person's
    await page.getByLabel('Seconds to add to bench.csv').fill('30');
    await page.getByText('bench.csv was shifted by hand: +30.0 s.').waitFor();
    await putAway();
  });
});

describe('a layout', () => {
  const odd = (shift: number) =>
    text(
      `box-${shift}.csv`,
      `When,Spot A (°C),Spot B (°C),Draw (W)\n${Array.from({ length: 900 }, (_, i) => {
        const load = i >= 120 && i < 780;
        const rise = load ? 40 * (1 - Math.exp(-(i - 120) / 60)) : i >= 780 ? 40 * Math.exp(-(i - 780) / 60) : 0;
        return `${i},${(22 + shift / 10 + rise + 0.1 * Math.sin(7 * i)).toFixed(2)},22.0${i % 3},${load ? 140 : 12}`;
      }).join('\n')}\n`,
    );
  it('is remembered when the run is stored, and read by when such a file comes again', async () => {
    await dropFiles(page, [odd(0)]);
    await settled();
    await page.getByLabel('Role of Spot B').selectOption('ambient');
    await expect.poll(previewValue).toBeGreaterThan(39.5);
    await page.getByLabel('Always read files with these headers this way').check();
    await page.getByLabel('Name of the log format').fill('Two-spot box');
    await storeNew('Layouts');
    await dropFiles(page, [odd(1)]);
    await page.getByText('Read by the log format').waitFor();
    await expect.poll(previewValue).toBeGreaterThan(39.5);
    await page.getByRole('button', { name: 'Guess instead' }).click();
    await expect.poll(() => page.getByTestId('preview-value').innerText()).toBe('no rise');
    await page.getByRole('button', { name: 'Use the log format' }).click();
    await expect.poll(previewValue).toBeGreaterThan(39.5);
    await putAway();
  });
  it('is renamed, corrected, saved as JSON, taken away and put back', async () => {
    await open(page, `${app.url}/layouts`);
    await page.getByText('Spot B is ambient').waitFor();
    expect(await axe()).toEqual([]);
    await page.getByRole('button', { name: 'Edit' }).click();
    await page.getByLabel('Name', { exact: true }).fill('Box of two spots');
    await page.getByRole('button', { name: 'Save', exact: true }).click();
    await page.getByRole('heading', { name: 'Box of two spots' }).waitFor();
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'Save all as JSON' }).click()]);
    const saved = JSON.parse(readFileSync(await download.path(), 'utf8'));
    expect(saved.layouts[0]).toMatchObject({ name: 'Box of two spots', reading: { roles: { 'Spot B': 'ambient' } } });
    await page.getByRole('button', { name: 'Delete Box of two spots' }).click();
    await page.getByText('No log format yet').waitFor();
    await page.getByRole('button', { name: 'Put it back' }).click();
    await page.getByRole('heading', { name: 'Box of two spots' }).waitFor();
    await page
      .getByLabel('File of log formats')
      .setInputFiles({ name: 'x.json', mimeType: 'application/json', buffer: Buffer.from('{"layouts":[{"name":"x","headers":["a"]}]}') });
    await page.getByRole('alert').getByText('The headers of a log format are a list of 2 to 2000 texts of up to 500 characters.').waitFor();
  });
});

describe('a long import', () => {
  it('shows its progress, and leaves nothing behind when it is cancelled', async () => {
    await open(page, app.url);
    const before = await (await fetch(`${app.url}/api/places`)).json();
    const line = (i: number) =>
      `${i / 10},${(22 + (i > 8000 && i < 60_000 ? 40 : 0) + (i % 7) / 10).toFixed(1)},22.0,${i > 8000 && i < 60_000 ? 140 : 12}`;
    const long = text(
      'long.csv',
      `Time (s),Die (°C),Room (°C),Power (W)\n${Array.from({ length: 80_000 }, (_, i) => line(i)).join('\n')}\n`,
    );
    const network = await page.context().newCDPSession(page);
    await network.send('Network.emulateNetworkConditions', {
      offline: false,
      latency: 0,
      downloadThroughput: -1,
      uploadThroughput: 150_000,
    });
    await dropFiles(page, [long]);
    await settled();
    await page.getByLabel('Title of the new study', { exact: true }).fill('Cancelled');
    await page.getByLabel('Name of the specimen', { exact: true }).fill('Loam White');
    await page.getByLabel('Rig', { exact: true }).selectOption({ index: 1 });
    await page.getByRole('button', { name: 'Store this run' }).click();
    await page.getByText(/^Sending and reading · \d+ %$/).waitFor();
    await page.getByRole('button', { name: 'Cancel' }).click();
    await page.getByText('Cancelled. Nothing was stored.').waitFor();
    await network.send('Network.emulateNetworkConditions', { offline: false, latency: 0, downloadThroughput: -1, uploadThroughput: -1 });
    expect(await (await fetch(`${app.url}/api/places`)).json()).toEqual(before);
    // what was chosen is still there, and the same file goes through afterwards
    await page.getByRole('button', { name: 'Store this run' }).click();
    await page.waitForURL(/\/runs\/\d+$/);
  });
});

describe('readings from a display', () => {
  it('are checked while they are typed, and stored as a run read by hand', async () => {
    await open(page, app.url);
    await page.getByRole('button', { name: 'Enter readings' }).click();
    await page.getByLabel('Mean of the sensors / °C').fill('66.2 °C / 160 °F');
    await page.getByText('differ by 4.9 K, which their last digits do not explain').first().waitFor();
    await page.getByLabel('Mean of the sensors / °C').fill('66.2 °C / 151 °F');
    await page.getByText('read to 0.1 K').waitFor();
    await page.getByLabel('Room / °C').fill('22');
    await page.getByLabel('Power / W').fill('140');
    await page.getByText('More readings').click();
    await page.getByLabel('Score').fill('4321');
    await expect.poll(previewValue).toBeCloseTo(44.2, 2);
    await value().getByText('Read by hand', { exact: true }).waitFor();
    expect(await axe()).toEqual([]);
    await storeNew('Typed');
    await expect.poll(() => page.getByText('66.2 °C / 151 °F').isVisible()).toBe(true);
    expect(await page.locator('main').innerText()).toContain('score 4321');
    expect(await axe()).toEqual([]);
    // it has no trace, and no place that shows one stumbles over it
    const response = await page.goto(app.url);
    expect(response?.status()).toBe(200);
    await page.getByText('44.2').first().waitFor();
  });
});

describe('results of a program', () => {
  it('come with their log, and are attached to a stored run', async () => {
    await open(page, app.url);
    await dropFiles(page, [log('fahrenheit.csv'), text('pass.json', '{"score": 4321, "runTime_s": 612.5}')]);
    await settled();
    await page.getByText('pass.json: score 4321, run time 612.5 s').waitFor();
    await page.getByLabel('Another program was running').check();
    await storeNew('Results');
    await page.getByText('Not comparable: another program was running.').waitFor();
    await page
      .getByLabel('Results files')
      .setInputFiles({ name: 'frames.csv', mimeType: 'text/csv', buffer: Buffer.from('Frame,Frame time (ms)\n1,10\n2,30\n') });
    await page.getByText('50.0 frames/s').waitFor();
    await page
      .getByLabel('Results files')
      .setInputFiles({ name: 'none.json', mimeType: 'application/json', buffer: Buffer.from('{"a":1}') });
    await page.getByRole('alert').getByText('no score, run time, frame rate or frame time is found').waitFor();
    await page.getByRole('button', { name: 'Delete the results of pass.json' }).click();
    await expect.poll(() => page.getByText('Not comparable').count()).toBe(0);
  });
});

describe('the form of an import, sent by a program', () => {
  const post = async (body: BodyInit, headers: Record<string, string> = {}) => {
    const response = await fetch(`${app.url}/api/imports`, { method: 'POST', body, headers });
    return { status: response.status, ...((await response.json()) as { error: string }) };
  };
  const plan = JSON.stringify({
    import_id: '7c9e6679-7425-40de-944b-e07fc1f90ae7',
    reading: {},
    place: { study_title: 'X', specimen_name: 'Y', specimen_kind: 'paste', rig_name: 'Z' },
  });
  const form = (parts: [string, string | File][]) => {
    const body = new FormData();
    for (const [name, value] of parts) body.append(name, value as string);
    return body;
  };
  const file = (content: string) => new File([content], 'log.csv');
  it('is told in a sentence what is wrong with it, even where much of it has not been read', async () => {
    const much = file('Time,Die (°C)\n'.padEnd(12_000_000, '1,41.2\n'));
    expect(await post('plain', { 'content-type': 'text/plain' })).toMatchObject({
      status: 400,
      error: expect.stringContaining('not a form with files'),
    });
    expect(
      await post(
        form([
          ['files', file('a,b\n1,2\n')],
          ['plan', plan],
        ]),
      ),
    ).toMatchObject({ status: 400, error: expect.stringContaining('it comes before the files') });
    expect(await post(form([['plan', '{']]))).toMatchObject({ status: 400, error: 'The import plan is not valid JSON.' });
    expect(await post(form([['plan', plan]]))).toMatchObject({
      status: 400,
      error: expect.stringMatching(/at least one log file|1 to 6 log files/),
    });
    expect(
      await post(
        form([
          ['plan', '{"import_id":"x"}'],
          ['files', much],
        ]),
      ),
    ).toMatchObject({ status: 400 });
    expect(
      await post(
        form([
          ['plan', plan],
          ['files', much],
        ]),
      ),
    ).toMatchObject({ status: 400, error: expect.stringContaining('log.csv') });
    const cut =
      '--x\r\ncontent-disposition: form-data; name="plan"\r\n\r\n{}\r\n--x\r\ncontent-disposition: form-data; name="files"; filename="a.csv"\r\n\r\n1,2';
    expect(await post(cut, { 'content-type': 'multipart/form-data; boundary=x' })).toMatchObject({ status: 400 });
    const { studies } = await (await fetch(`${app.url}/api/places`)).json();
    expect(studies.some((s: { title: string }) => s.title === 'X')).toBe(false);
  });
});
