import { randomUUID } from 'node:crypto';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { accessFaults } from './access.ts';
import { type App, open, startApp } from './app.ts';

let app: App;
let page: Page;
let study = 0;
const plain = (text: string) => text.replaceAll('−', '-').replace(/\s+/g, ' ');
const main = async () => plain(await page.locator('main').innerText());
const choice = (label: string) => page.getByRole('region', { name: 'What is compared, and how' }).getByLabel(label, { exact: true });

interface Places {
  specimens: { id: number; study_id: number; name: string }[];
  mounts: { id: number; specimen_id: number; number: number }[];
  rigs: { id: number; name: string }[];
}

async function call<T>(method: string, path: string, body?: unknown): Promise<T> {
  const answer = await fetch(`${app.url}/api/${path}`, {
    method,
    headers: { 'content-type': 'application/json' },
    body: body ? JSON.stringify(body) : undefined,
  });
  if (!answer.ok) throw new Error(`${path}: ${await answer.text()}`);
  return answer.json() as Promise<T>;
}

/** One typed run; its bench day shifts all that is read on it. */
async function read(specimen: string, mount: number, load: string, day: number, rise: number): Promise<void> {
  const places = await call<Places>('GET', 'places');
  const known = places.specimens.find((s) => s.study_id === study && s.name === specimen);
  const there = places.mounts.find((m) => m.specimen_id === known?.id && m.number === mount);
  const rig = places.rigs.find((r) => r.name === 'Window bench');
  const place = {
    ...{ study_id: study, load },
    ...(known ? { specimen_id: known.id } : { specimen_name: specimen, specimen_kind: 'paste' }),
    ...(there ? { mount_id: there.id } : {}),
    ...(rig ? { rig_id: rig.id } : { rig_name: 'Window bench' }),
  };
  const texts = { mean_c: `${(20 + rise).toFixed(1)} °C`, room_c: '20.0 °C', power_w: '100 W', clock_mhz: `${2000 + 10 * mount} MHz` };
  const read_at = new Date(Date.UTC(2026, 8, day, 9)).toISOString();
  await call('POST', 'typed-runs', { import_id: randomUUID(), place, texts, throttled: 'no', read_at });
}

/** Runs that are stored under the load Full. */
const underFull = async () =>
  (await call<{ facts: { runs: { load: string }[] } }>('GET', `studies/${study}/results.json`)).facts.runs.filter((r) => r.load === 'Full')
    .length;

const DAYS = [0, 1.4, -1.1, 2.2];
const NOISE = [0.1, -0.1, 0, 0.05];
beforeAll(async () => {
  app = await startApp();
  page = await app.newPage();
  study = (await call<{ id: number }>('POST', 'studies', { title: 'Two loads over four days', margin_k: 1 })).id;
  const { version } = await call<{ version: number }>('GET', `studies/${study}/plan`);
  const loads = ['Part', 'Full'].map((name) => ({ name, steps: [{ stage: 'load', minutes: 20 }] }));
  await call('PATCH', `studies/${study}/plan`, { base: version, changes: { loads, mounts: 4 }, insist: [] });
  for (const [i, shift] of DAYS.entries()) {
    await read('Loam White', i + 1, 'Part', i + 1, 30 + shift + NOISE[i]);
    await read('Wick 60', i + 1, 'Part', i + 1, 29 + shift - NOISE[i]);
    await read('Loam White', i + 1, 'Full', i + 1, 60 + 2 * shift + NOISE[i]);
    await read('Wick 60', i + 1, 'Full', i + 1, 56 + 2 * shift - NOISE[i]);
  }
});
afterAll(() => app.stop());

describe('a study of two loads over days that differ', () => {
  it('hides its difference in the days, and says what would adjust for them', async () => {
    await open(page, `${app.url}/studies/${study}/results`);
    await page.getByRole('heading', { level: 1, name: /^Under \w+, Wick 60 and Loam White are not distinguishable/ }).waitFor();
    expect(await main()).toMatch(/Days differ The bench days differ \(p = .*\), and the comparison is not adjusted for that/);
  });

  it('tells it by bench day, and which sentence that changes', async () => {
    await choice('Adjust for').selectOption({ label: 'Bench day' });
    await page.getByRole('heading', { level: 1, name: /^Under \w+, Wick 60 runs 1\.\d K cooler than Loam White/ }).waitFor();
    const changed = page.getByRole('region', { name: 'What changes compared with the settings of the study', exact: true });
    await expect.poll(() => changed.getByRole('listitem').count()).toBe(1);
    expect(plain(await changed.locator('del').innerText())).toContain('not distinguishable');
    expect(await main()).toMatch(
      /The comparison is adjusted for the bench days, with one pooled scatter for all\. The bench days differ with p = 0\.0/,
    );
    expect(await main()).not.toContain('is not adjusted for that');
  });

  it('tells each load by itself, and what is gained from one to the other', async () => {
    await choice('Load').selectOption({ label: 'Full' });
    await page.getByRole('heading', { level: 1, name: /^Under \w+, Wick 60 runs 4\.\d K cooler than Loam White/ }).waitFor();
    await page.getByRole('heading', { level: 3, name: 'From load to load' }).waitFor();
    expect(await main()).toMatch(/Wick 60 gains 3\.\d K more over Loam White under Full than under Part \(95 % [\d.]+ to [\d.]+\)/);
  });

  it('draws the reference over the days with the limits of its own scatter', async () => {
    const chart = page.getByRole('figure', { name: 'Loam White over the days' });
    await expect.poll(async () => plain(await chart.innerText())).toContain('09-02');
    expect(plain(await chart.innerText())).toMatch(/All 4 mounts of Loam White lie within the control limits/);
    await chart.getByRole('button', { name: 'Table' }).click();
    await chart.getByRole('cell', { name: '2026-09-04' }).waitFor();
  });

  it('takes a run to its other load on its own page', async () => {
    await page.getByRole('button', { name: /^Wick 60, mount 4: / }).click();
    await page.getByRole('link', { name: 'Run 1', exact: true }).click();
    await page.waitForURL(/\/runs\/\d+$/);
    const load = page.getByLabel('Load', { exact: true });
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    await expect.poll(() => load.inputValue()).toBe('Part');
    await load.selectOption('Full');
    await expect.poll(() => load.inputValue()).toBe('Full');
    await expect.poll(underFull).toBe(9);
    await load.selectOption('Part');
    // what follows compares loads, and must not come before this is stored
    await expect.poll(underFull).toBe(8);
  });

  it('asks for the load where a run is typed', async () => {
    await open(page, `${app.url}/studies/${study}/results`);
    await page.getByRole('button', { name: 'Enter readings' }).click();
    const place = page.getByRole('form', { name: 'Where the run belongs' });
    await place.getByLabel('Load', { exact: true }).selectOption({ label: 'Full' });
    await page.keyboard.press('Escape');
  });

  it('compares by its clock in the words of a clock', async () => {
    await choice('Outcome').selectOption({ label: 'Clock' });
    await page.getByRole('heading', { level: 1, name: /are equivalent within ±25 MHz: 0 MHz apart/ }).waitFor();
    expect(await accessFaults(page)).toEqual([]);
  });

  it('keeps its blocks where the plan says them, in the results, the report and its method', async () => {
    await open(page, `${app.url}/studies/${study}/plan`);
    await page.locator('summary').filter({ hasText: 'Methods' }).click();
    await page.getByLabel('Adjust for', { exact: true }).selectOption({ label: 'Bench day' });
    await expect
      .poll(async () => (await call<{ choice: { block: string | null } }>('GET', `studies/${study}/results.json`)).choice.block)
      .toBe('day');
    await open(page, `${app.url}/studies/${study}/report`);
    expect(await main()).toMatch(/Wick 60 runs 1\.\d K cooler than Loam White/);
    expect(await main()).toMatch(/Adjust for Bench day/);
  });
});
