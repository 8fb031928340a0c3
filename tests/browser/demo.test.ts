import { readdirSync, readFileSync } from 'node:fs';
import { gzipSync } from 'node:zlib';
import Papa from 'papaparse';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { headingHelp } from '#features/bench/model/headings';
import { accessFaults } from './access.ts';
import { type App, open, startApp } from './app.ts';
import { independentComparison } from './independent.ts';

let app: App;
let page: Page;
beforeAll(async () => {
  app = await startApp('demo');
  page = await app.newPage({ acceptDownloads: true });
});
afterAll(() => app.stop());

const plain = (text: string) => text.replaceAll('−', '-').replace(/\s+/g, ' ');

describe("the demo's results", () => {
  interface RunRow {
    specimen: string;
    mount: string;
    value: string;
    valid: string;
    excluded: string;
  }
  let rows: RunRow[];
  beforeAll(async () => {
    rows = Papa.parse<RunRow>(await (await fetch(`${app.url}/api/studies/1/values.csv`)).text(), {
      header: true,
      skipEmptyLines: true,
      comments: '#',
    }).data;
    await open(page, `${app.url}/studies/1/results`);
  });

  it('hold eight materials with five mounts of two or three runs, some of them bad', () => {
    const mounts = new Map<string, number>();
    for (const r of rows) mounts.set(`${r.specimen}/${r.mount}`, (mounts.get(`${r.specimen}/${r.mount}`) ?? 0) + 1);
    expect(mounts.size).toBe(40);
    expect([...new Set(mounts.values())].sort()).toEqual([2, 3]);
    expect(rows.filter((r) => r.valid === 'false')).toHaveLength(3);
  });

  it('are what an independent calculation gives for the exported run values', async () => {
    const usable = rows
      .filter((r) => r.valid === 'true' && r.excluded === 'false')
      .map((r) => ({ specimen: r.specimen, mount: r.mount, value: Number(r.value) }));
    const own = independentComparison(usable);
    const drawn = async () => plain(await page.getByRole('figure', { name: /^Ladder/ }).innerText());
    await expect.poll(drawn).toContain(' K');
    const ladder = await drawn();
    for (const s of own.specimens) {
      expect(ladder, s.name).toContain(`${s.mean.toFixed(1)} K`);
      expect(ladder, s.name).toContain(`${s.low.toFixed(1)} to ${s.high.toFixed(1)}`);
    }
    await page.getByLabel('Table', { exact: true }).check();
    await page.getByLabel('Only pairs with Loam White').uncheck();
    // the independent way is Games–Howell's; the study itself is judged more strictly
    const choices = page.getByRole('region', { name: 'What is compared, and how' });
    await choices.getByLabel('Scatter', { exact: true }).selectOption({ label: 'Each its own' });
    await page.getByRole('heading', { name: 'What changes compared with the settings of the study' }).waitFor();
    const shown = await page.getByRole('region', { name: 'Table of pairs' }).getByRole('row').allInnerTexts();
    expect(shown).toHaveLength(29);
    for (const line of shown.slice(1)) {
      const [a, b, difference, interval, p] = line.split('\t').map(plain);
      const pair = own.pairs.find((o) => o.a === a && o.b === b);
      expect(Number(difference), line).toBe(Number(pair?.difference.toFixed(2)));
      expect(interval, line).toBe(`${pair?.low.toFixed(2)} to ${pair?.high.toFixed(2)}`);
      if (!p.startsWith('<')) expect(Math.abs(Number(p) - (pair?.p ?? 1)), line).toBeLessThan(0.000051);
    }
    await choices.getByLabel('Scatter', { exact: true }).selectOption({ label: 'Chosen for the design' });
    await page.getByRole('heading', { name: 'What changes compared with the settings of the study' }).waitFor({ state: 'detached' });
    const text = plain(await page.locator('main').innerText());
    expect(text).toContain(`Pooled standard deviation of mount values, ${own.df} degrees of freedom ${own.pooledSd.toFixed(2)} K`);
  });

  it('say the verdict of the scenario, and which pairs lean on an assumption', async () => {
    const text = plain(await page.locator('main').innerText());
    expect(text).toMatch(/Wick 60 runs 1\.9 K cooler than Loam White \(95 % [\d.]+ to [\d.]+, 5 mounts each\); firm\./);
    expect(text).toMatch(/Another method would judge \d of 28 pairs differently/);
    expect(text).toContain('Slip Felt 0.5 mount 3 run 1 (throttled)');
  });

  it('sort by a tap on a heading, and give their figures and drawing to take along', async () => {
    const first = () => page.getByRole('region', { name: 'Table of pairs' }).getByRole('row').nth(1).innerText();
    await page.getByRole('button', { name: 'a − b / K' }).click();
    const up = await first();
    await page.getByRole('button', { name: 'a − b / K' }).click();
    expect(await first()).not.toBe(up);
    const ladder = page.getByRole('figure', { name: /^Ladder/ });
    for (const kind of ['SVG', 'PNG', 'CSV']) {
      const [download] = await Promise.all([page.waitForEvent('download'), ladder.getByRole('button', { name: kind }).click()]);
      expect(download.suggestedFilename()).toBe(`ladder-eight-materials-on-the-tm-6-lid.${kind.toLowerCase()}`);
    }
    await ladder.getByRole('button', { name: 'Table' }).click();
    await ladder.getByRole('cell', { name: 'at or above 67.1' }).waitFor();
  });
});

describe('the other places of the demo', () => {
  it('the bench shows the last run of a rig and what waits for a judgement', async () => {
    await open(page, app.url);
    const north = page.getByRole('region', { name: 'North bench' });
    expect(await north.innerText()).toContain('Wick 60, mount 4, run 5');
    expect(await page.getByRole('region', { name: 'South bench' }).innerText()).toContain('Wick 60, mount 3, run 2');
    await page
      .getByRole('link', { name: /Throttled/ })
      .first()
      .click();
    await page.getByText('Throttled: at or above').waitFor();
    expect(await page.locator('main').innerText()).toContain('not valid');
  });

  it('a mark on the rail leads to its specimen, and a run to its mount', async () => {
    await open(page, `${app.url}/studies/1/results`);
    await page.getByRole('link', { name: /^Tarn: [\d.]+ K$/ }).click();
    await page.waitForURL(/runs#specimen-6$/);
    await page
      .getByRole('region', { name: 'Tarn', exact: true })
      .getByRole('link', { name: /^Run 2/ })
      .nth(1)
      .click();
    await page.getByRole('heading', { level: 1, name: 'Tarn, mount 2, run 2' }).waitFor();
    expect(await page.locator('main').innerText()).toContain('Heat-soaked');
  });

  it('an address that is not there says so', async () => {
    expect((await page.goto(`${app.url}/runs/4711`))?.status()).toBe(404);
    expect((await page.goto(`${app.url}/studies/abc/results`))?.status()).toBe(404);
    expect((await page.goto(`${app.url}/nowhere`))?.status()).toBe(404);
    await page.getByRole('heading', { name: 'There is nothing at this address' }).waitFor();
  });
});

/** Phrases that were retired: their successors are in the voice of the product. */
const retired = readFileSync('scripts/retired-phrases.txt', 'utf8')
  .split('\n')
  .filter((l) => l.trim() !== '' && !l.startsWith('#'))
  .map((l) => l.toLowerCase());

/** Of one place, as they come over the wire. */
const MOST_SCRIPT_BYTES = 235_000;

describe('every place', () => {
  const places = [
    ...[
      '/',
      '/studies',
      '/studies/1/results',
      '/studies/3/results',
      '/studies/1/report',
      '/studies/4/report',
      '/studies/1/runs',
      '/runs/1',
      '/nowhere',
      '/help',
      '/bin',
      '/studies/new',
    ],
    ...[
      ...['/ranking', '/ranking/coolers', '/ranking/next', '/ranking/lab', '/ranking/labs', '/ranking/material?material=m4'],
      '/studies/4/coolers',
      '/studies/5/coolers',
      '/tools/stack',
      '/checked',
      '/tools/conductivity',
      '/tools/noise',
      '/tools/transient',
      '/tools/probes',
      '/studies/6/ageing',
      '/tools/dose',
      '/tools/flatness',
      '/tools/tightening?mount=41',
      '/studies/2/mounts',
      '/mounts/41',
      '/tools/print',
      '/tools/print?photograph=1',
      '/rigs/2/teardown',
      '/studies/2/plan',
      '/studies/2/days/4',
      '/shelf/materials',
      '/layouts',
      '/shelf/rigs/1',
      '/shelf/instruments/new',
    ],
  ];
  it.each(places)(
    '%s keeps the rules of access in light and dark, fits a phone, loads little, and asks no other host for anything',
    async (place) => {
      const own = await app.newPage();
      const asked = new Set<string>();
      own.on('request', (r) => asked.add(new URL(r.url()).origin));
      const scripts: Promise<number>[] = [];
      own.on('requestfinished', (r) => {
        if (r.resourceType() === 'script') scripts.push(r.sizes().then((s) => s.responseBodySize));
      });
      await open(own, app.url + place);
      if (place.startsWith('/runs/')) await own.locator('path.recharts-line-curve').first().waitFor();
      expect((await Promise.all(scripts)).reduce((a, b) => a + b, 0)).toBeLessThan(MOST_SCRIPT_BYTES);
      expect(await accessFaults(own)).toEqual([]);
      await own.evaluate(() => {
        document.documentElement.dataset.theme = 'dark';
      });
      expect(await accessFaults(own, 'contrast')).toEqual([]);
      await own.setViewportSize({ width: 390, height: 844 });
      // charts follow the width of their page in a moment
      await expect.poll(() => own.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
      expect(await accessFaults(own)).toEqual([]);
      // a screen of 1280 × 800 at 200 %
      await own.setViewportSize({ width: 640, height: 400 });
      await expect.poll(() => own.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(640);
      expect(await accessFaults(own, 'layout')).toEqual([]);
      const text = plain(await own.locator('body').innerText()).toLowerCase();
      expect(retired.filter((phrase) => text.includes(phrase))).toEqual([]);
      if (/^\/(studies\/\d+\/(plan|results)|runs\/\d+)$/.test(place)) {
        const headings = await own.locator('main :is(h2, h3)').allInnerTexts();
        expect(headings.filter((h) => h.trim() !== '' && headingHelp(h) === null)).toEqual([]);
      }
      expect([...asked].filter((o) => o !== app.url && o !== 'null')).toEqual([]);
      await own.close();
    },
  );

  it('sends its files compressed, to be kept for good, with the same headers', async () => {
    const [file] = /_astro\/[\w.-]+\.css/.exec(await (await fetch(app.url)).text()) ?? [];
    const { headers } = await fetch(`${app.url}/${file}`, { headers: { 'accept-encoding': 'br' } });
    expect([headers.get('content-encoding'), headers.get('cache-control')]).toEqual(['br', 'public, max-age=31536000, immutable']);
    expect(headers.get('x-content-type-options')).toBe('nosniff');
  });

  it('has web workers of 150 kB together, all that they share counted once', () => {
    const folder = 'dist/client/_astro';
    // the workers' build parts names from their marks by a hyphen, the pages' by a dot
    const parts = readdirSync(folder).filter((f) => /-[\w-]{8}\.js$/.test(f));
    const sources = readdirSync('src/features', { recursive: true, encoding: 'utf8' }).filter((f) => f.endsWith('.worker.ts'));
    expect(parts.filter((f) => f.includes('.worker-')).length).toBe(sources.length);
    expect(sources.length).toBeGreaterThan(0);
    expect(parts.reduce((sum, f) => sum + gzipSync(readFileSync(`${folder}/${f}`)).length, 0)).toBeLessThan(150_000);
  });

  it('refuses requests from other sites and other names', async () => {
    const post = (headers: Record<string, string>) =>
      fetch(`${app.url}/api/studies`, {
        method: 'POST',
        body: JSON.stringify({ title: 'Foreign', margin_k: 1 }),
        headers: { 'content-type': 'application/json', ...headers },
      });
    expect((await post({ origin: 'http://elsewhere.example' })).status).toBe(403);
    expect((await post({ 'sec-fetch-site': 'cross-site' })).status).toBe(403);
    const answer = await fetch(app.url);
    expect(answer.headers.get('content-security-policy')).toContain("frame-ancestors 'none'");
    expect(answer.headers.get('x-content-type-options')).toBe('nosniff');
  });
});
