import { readFileSync } from 'node:fs';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { vectors } from '../vectors.ts';
import { accessFaults } from './access.ts';
import { type App, dropFiles, open, startApp } from './app.ts';

const folder = new URL('../reference/logs/', import.meta.url);
const cases: { name: string; truth: { rise_k: number }; tolerance: { rise_k: number } }[] = JSON.parse(
  readFileSync(new URL('cases.json', folder), 'utf8'),
);
const log = (name: string) => ({ name, bytes: new Uint8Array(readFileSync(new URL(name, folder))) });

let app: App;
let page: Page;
beforeAll(async () => {
  app = await startApp();
  page = await app.newPage();
});
afterAll(() => app.stop());

const previewValue = async () => Number.parseFloat((await page.getByTestId('preview-value').innerText()).replace('−', '-'));
const settled = () =>
  page.waitForFunction(() => document.querySelector('section[aria-label="Value"]')?.getAttribute('aria-busy') === 'false');

async function expectCase(name: string): Promise<void> {
  const c = cases.find((o) => o.name === name);
  await settled();
  await expect
    .poll(async () => Math.abs((await previewValue()) - (c?.truth.rise_k ?? Number.NaN)))
    .toBeLessThanOrEqual((c?.tolerance.rise_k ?? 0) + 0.005);
}

async function fillPlace(fields: Record<string, string>): Promise<void> {
  for (const [label, value] of Object.entries(fields)) {
    const field = page.getByLabel(label, { exact: true });
    if ((await field.evaluate((e) => e.tagName)) === 'SELECT') await field.selectOption({ label: value });
    else await field.fill(value);
  }
}

async function store(): Promise<void> {
  await page.getByRole('button', { name: 'Store this run' }).click();
  await page.waitForURL(/\/runs\/\d+$/);
}

describe('an empty installation', () => {
  it('offers its three ways in', async () => {
    await open(page, app.url);
    for (const way of ['Drop your logs', 'Start a study', 'Look at the demo'])
      await expect.poll(() => page.getByRole('heading', { name: way }).isVisible()).toBe(true);
  });

  it('loads the demo on request, and takes it away again when stopped', async () => {
    await page.getByRole('button', { name: 'Load the demo' }).click();
    await page.getByText(/^\d+ of \d+ runs$/).waitFor();
    await page.getByRole('button', { name: 'Stop' }).click();
    await page.getByRole('button', { name: 'Load the demo' }).waitFor();
    expect(await (await fetch(`${app.url}/api/places`)).json()).toEqual({
      studies: [],
      specimens: [],
      mounts: [],
      rigs: [],
      titles: [],
    });
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
  });

  it('shows what was understood of a dropped log, and its value', async () => {
    await dropFiles(page, [log('plain.csv')]);
    await expectCase('plain');
    await expect.poll(() => page.getByText('2100 rows over 35.0 min').isVisible()).toBe(true);
    await expect.poll(() => page.getByLabel('Role of Sound level').inputValue()).toBe('noise');
    await page.getByText('First rows as they stand in the file').click();
    await expect.poll(() => page.getByRole('cell', { name: '2025-03-18 09:12:00.500' }).isVisible()).toBe(true);
    await page.getByRole('button', { name: 'Close without storing' }).click();
  });

  it('keeps the rules of access on the sheet', async () => {
    await dropFiles(page, [log('no_ambient.tsv')]);
    await settled();
    await page.locator('path.recharts-line-curve').first().waitFor();
    expect(await accessFaults(page)).toEqual([]);
    await page.keyboard.press('Escape');
  });

  it('lets a role be corrected until the value is right', async () => {
    await dropFiles(page, [log('many_columns.csv')]);
    await settled();
    // of 120 columns two are read as dies; the case is judged by the hot spot alone
    expect(await previewValue()).toBeLessThan(44);
    await page.getByLabel('Role of Die edge').selectOption('ignore');
    await expectCase('many_columns');
    await expect.poll(() => page.getByLabel('Role of Card power').inputValue()).toBe('power');
    await page.getByRole('button', { name: /columns that are ignored/ }).click();
    await page.getByLabel('Role of Die edge').selectOption('sensor');
    await expect.poll(previewValue).toBeLessThan(44);
    await page.getByLabel('The run is evaluated by').selectOption('Die hot spot');
    await expectCase('many_columns');
    await page.keyboard.press('Escape');
  });

  it('takes a room read by hand, with its uncertainty', async () => {
    await dropFiles(page, [log('no_ambient.tsv')]);
    await settled();
    await page.getByLabel('Room temperature, entered by hand / °C').fill('22');
    await expect.poll(previewValue).toBeCloseTo(60.78 - 22, 1);
    // half of the 95 % interval, which the typed room decides
    const half = async () => {
      const [, low, high] = /95 %\s*([\d.]+) to ([\d.]+)/.exec(await page.getByRole('region', { name: 'Value' }).innerText()) ?? [];
      return (Number(high) - Number(low)) / 2;
    };
    expect(await half()).toBeCloseTo(1.96 * 0.5, 1);
    await page.getByLabel('uncertainty / K').fill('0,2');
    await expect.poll(half).toBeLessThan(0.5);
    await expect.poll(() => page.getByLabel('Room temperature, entered by hand / °C').inputValue()).toBe('22');
    await page.keyboard.press('Escape');
  });

  it('takes the log of the room as a second file of the run', async () => {
    const lines = new TextDecoder().decode(log('plain.csv').bytes).split('\n');
    const cut = (keep: (i: number) => boolean) =>
      lines
        .map((l) =>
          l
            .split(',')
            .filter((_, i) => keep(i))
            .join(','),
        )
        .join('\n');
    const encode = (text: string) => new TextEncoder().encode(text);
    await dropFiles(page, [{ name: 'host.csv', bytes: encode(cut((i) => i < 5 || i > 6)) }]);
    await settled();
    expect(await page.getByTestId('preview-value').innerText()).toBe('no rise');
    await page.setInputFiles('[data-testid=log-files]', {
      name: 'room.csv',
      mimeType: 'text/csv',
      buffer: Buffer.from(cut((i) => i === 0 || i === 5 || i === 6)),
    });
    await expectCase('plain');
    await page.keyboard.press('Escape');
  });

  it('stores the run and shows it with its trace', async () => {
    await dropFiles(page, [log('lasting_limit.csv')]);
    await expectCase('lasting_limit');
    await fillPlace({
      'Title of the new study': 'First light',
      'Name of the specimen': 'Loam White',
      'Name of the rig': 'North bench',
      'Throttle limit / °C': '95',
    });
    await store();
    expect(await page.getByRole('heading', { level: 1 }).innerText()).toBe('Loam White, mount 1, run 1');
    expect(await page.locator('main').innerText()).toContain('41.3');
    await page.locator('path.recharts-line-curve').first().waitFor();
    for (const strip of ['Ambient / °C', 'Power / W', 'Fan / rpm', 'Clock / MHz'])
      await expect.poll(() => page.getByText(strip, { exact: true }).first().isVisible()).toBe(true);
    await expect.poll(() => page.getByRole('link', { name: 'lasting_limit.csv' }).isVisible()).toBe(true);
  });
});

describe('bad input', () => {
  it.each([
    [
      'noise.csv',
      new Uint8Array([0, 159, 146, 150, 0, 1, 2, 3]),
      'noise.csv: this is not a text file; export the log as CSV or tab-separated text.',
    ],
    ['empty.csv', new Uint8Array(), 'empty.csv: the file is empty; a log with a header and rows of readings is needed.'],
    ['header_only.csv', log('header_only.csv').bytes, 'header_only.csv, row 2: there is a header but no row of readings below it'],
    [
      'power.csv',
      new TextEncoder().encode('Time,Power (W)\n0,140\n1,140\n2,141\n'),
      'power.csv, row 1: no column has a temperature of the part (found: Power)',
    ],
  ])('%s is told in a sentence, and cannot be stored', async (name, bytes, sentence) => {
    await open(page, app.url);
    await dropFiles(page, [{ name, bytes }]);
    await page.getByRole('alert').filter({ hasText: sentence }).waitFor();
    await expect.poll(() => page.getByRole('button', { name: 'Store this run' }).isDisabled()).toBe(true);
    await page.keyboard.press('Escape');
  });

  it('asks for the order of day and month where it is open', async () => {
    await dropFiles(page, [log('throttled.csv')]);
    await page.getByRole('button', { name: 'The day is first' }).click();
    await settled();
    await page.getByText('days with', { exact: false }).waitFor({ state: 'detached' });
    await page.getByText('dates with the day first').waitFor();
    await page.keyboard.press('Escape');
  });

  it('says that a file is already imported, and where it is', async () => {
    await dropFiles(page, [log('lasting_limit.csv')]);
    const told = page.getByRole('alert').filter({ hasText: 'This file is already imported' });
    await told.waitFor();
    expect(await told.innerText()).toContain('run 1 of Loam White, mount 1, in "First light"');
    await expect.poll(() => page.getByRole('button', { name: 'Store this run' }).isDisabled()).toBe(true);
    await page.keyboard.press('Escape');
  });

  it('refuses a run on a mount of another rig and keeps what was typed', async () => {
    await dropFiles(page, [log('cut_line.csv')]);
    await settled();
    await fillPlace({
      Study: 'First light',
      Specimen: 'Loam White',
      Mount: 'Mount 1, North bench',
      Rig: 'a new rig',
      'Name of the rig': 'South bench',
    });
    await page.getByRole('button', { name: 'Store this run' }).click();
    await page
      .getByRole('alert')
      .filter({ hasText: 'Mount 1 of Loam White stands on North bench, but this run was logged on South bench.' })
      .waitFor();
    await expect.poll(() => page.getByLabel('Name of the rig', { exact: true }).inputValue()).toBe('South bench');
    await page.keyboard.press('Escape');
    // nothing half stored: the rig named in the refused import is not there
    expect(await (await fetch(`${app.url}/api/places`)).json()).toMatchObject({ rigs: [{ name: 'North bench' }] });
  });

  it('marks the fields that are missing', async () => {
    await dropFiles(page, [log('cut_line.csv')]);
    await settled();
    await fillPlace({ Study: 'a new study' });
    // what the name of the file says is there already
    expect(await page.getByLabel('Name of the specimen').inputValue()).not.toBe('');
    await fillPlace({ 'Title of the new study': '', 'Name of the specimen': '' });
    await page.getByRole('button', { name: 'Store this run' }).click();
    await page.getByText('The study needs a title of 1 to 120 characters.').waitFor();
    await page.getByText('The specimen needs a name of 1 to 80 characters.').waitFor();
    await page.keyboard.press('Escape');
  });
});

describe('a store that goes away', () => {
  it('is told, tried again, and loses nothing', async () => {
    await open(page, `${app.url}/studies`);
    await dropFiles(page, [log('cut_line.csv')]);
    await settled();
    await fillPlace({ Study: 'First light', Specimen: 'Loam White', Mount: 'a new mount' });
    await app.cutStore();
    await page.getByRole('button', { name: 'Store this run' }).click();
    await page.getByText('The store does not answer. What you entered is still here; it is sent again every two seconds.').waitFor();
    await app.restoreStore();
    await page.waitForURL(/\/runs\/\d+$/);
    expect(await page.getByRole('heading', { level: 1 }).innerText()).toBe('Loam White, mount 2, run 1');
  });

  it('shows a page that says so and goes on by itself', async () => {
    await app.cutStore();
    const answer = await page.goto(`${app.url}/studies`);
    expect(answer?.status()).toBe(503);
    await page.getByRole('heading', { name: 'The store does not answer' }).waitFor();
    await app.restoreStore();
    await page.getByRole('heading', { level: 1, name: 'Studies' }).waitFor();
  });
});

describe('a study grows until its verdict turns', () => {
  interface Expected {
    games_howell: { difference: number; ci95: [number, number]; p_adjusted: number }[];
    separate: { specimens: { specimen: string; mean: number; ci95: [number, number] }[] };
  }
  const { input, expected } = vectors<{ rows: { specimen: string; value: number }[] }, Expected>('oneway').cases[0];
  const bySpecimen = (name: string) => input.rows.filter((r) => r.specimen === name).map((r) => r.value);

  /** A log whose rise is exactly the value: room at 22 °C, the die as far above it under load. */
  function exactLog(value: number, serial: number) {
    const rows = Array.from({ length: 720 }, (_, i) => {
      const loaded = i >= 120 && i < 600;
      const die = loaded ? (22 + value * (1 - Math.exp(-(i - 119) / 12) * (i < 360 ? 1 : 0))).toFixed(6) : '25.0';
      return `${i},${die},22.0,${loaded ? 140 : 12}`;
    });
    return { name: `run-${serial}.csv`, bytes: new TextEncoder().encode(`Time (s),Die (°C),Ambient (°C),Power (W)\n${rows.join('\n')}\n`) };
  }

  async function addMount(specimen: string, value: number, serial: number, first: boolean) {
    await dropFiles(page, [exactLog(value, serial)]);
    await settled();
    if (first) {
      if ((await page.getByLabel('Specimen', { exact: true }).count()) > 0) await fillPlace({ Specimen: 'a new specimen' });
      await fillPlace({ 'Name of the specimen': specimen });
    } else await fillPlace({ Specimen: specimen });
    await store();
    await page.getByRole('link', { name: 'Results' }).click();
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
  }
  /** The same, as a program would do it. */
  async function sendMount(specimen: string, value: number, serial: number) {
    const places = await (await fetch(`${app.url}/api/places`)).json();
    const { id: study_id } = places.studies.find((s: { title: string }) => s.title === 'Two pastes');
    const { id: specimen_id } = places.specimens.find(
      (s: { study_id: number; name: string }) => s.study_id === study_id && s.name === specimen,
    );
    const { rig_id } = places.mounts.find((m: { specimen_id: number }) => m.specimen_id === specimen_id);
    const { name, bytes } = exactLog(value, serial);
    const form = new FormData();
    form.set('plan', JSON.stringify({ import_id: crypto.randomUUID(), reading: {}, place: { study_id, specimen_id, rig_id } }));
    form.append('files', new File([new Uint8Array(bytes)], name));
    expect((await fetch(`${app.url}/api/imports`, { method: 'POST', body: form })).status).toBe(201);
  }
  const headline = async () => (await page.getByRole('heading', { level: 1 }).innerText()).replace(/\s+/g, ' ');

  it('from unresolved to what other software calls significant, with its figures', async () => {
    await open(page, `${app.url}/studies`);
    await page.getByLabel('Title', { exact: true }).fill('Two pastes');
    await page.getByRole('button', { name: 'Start the study' }).click();
    await page.waitForURL(/\/studies\/\d+\/plan$/);
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    const told: string[] = [];
    let serial = 0;
    for (let i = 0; i < 5; i++) {
      for (const s of ['S1', 'S2']) {
        if (i === 0 || i === 4) await addMount(s, bySpecimen(s)[i], ++serial, i === 0);
        else await sendMount(s, bySpecimen(s)[i], ++serial);
      }
      await page.reload();
      told.push(await headline());
    }
    expect(told[0]).toContain('Assuming a mount-to-mount scatter of 0.50 K');
    expect(told[1]).toContain('not distinguishable');
    const [pair] = expected.games_howell;
    const one = (v: number) => Math.abs(v).toFixed(1);
    expect(told[4]).toBe(
      `S1 runs ${one(pair.difference)} K cooler than S2 (95 % ${one(pair.ci95[1])} to ${one(pair.ci95[0])}, 5 mounts each); firm.`,
    );
    await page.getByLabel('Table', { exact: true }).check();
    const cells = (await page.getByRole('region', { name: 'Table of pairs' }).getByRole('row').nth(1).innerText())
      .replaceAll('−', '-')
      .split('\t');
    expect(cells.slice(2, 5)).toEqual([
      pair.difference.toFixed(2),
      `${pair.ci95[0].toFixed(2)} to ${pair.ci95[1].toFixed(2)}`,
      pair.p_adjusted.toFixed(4),
    ]);
    // the ladder is drawn when its island is alive and its width known
    const ladder = page.getByRole('figure', { name: /^Ladder/ });
    for (const s of expected.separate.specimens)
      await expect
        .poll(async () => (await ladder.innerText()).replace(/\s+/g, ' '))
        .toContain(`${s.ci95[0].toFixed(1)} to ${s.ci95[1].toFixed(1)}`);
  });
});
