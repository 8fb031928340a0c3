import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { pathToFileURL } from 'node:url';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { partsOf } from '../db/changedPackages.ts';
import { accessFaults } from './access.ts';
import { type App, startApp } from './app.ts';

/** Published versions of the demo's studies as files, opened from disk with no network. */
let app: App;
const folder = mkdtempSync(path.join(tmpdir(), 'published-'));
const addresses: string[] = [];
beforeAll(async () => {
  app = await startApp('demo');
  await send('/api/settings', 'PUT', { lab: 'Hut <lab> & friends' });
  const { studies } = (await (await fetch(`${app.url}/api/places`)).json()) as { studies: { id: number }[] };
  for (const { id } of studies) {
    const { address } = await send(`/api/studies/${id}/report/versions`, 'POST', { who: 'M.K.', author: 'Mara K. </script><b>' });
    addresses.push(address);
  }
});
afterAll(async () => {
  await app.stop();
  rmSync(folder, { recursive: true });
});

async function send(place: string, method: string, body: object) {
  const answer = await fetch(`${app.url}${place}`, { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });
  const said = await answer.json();
  expect(answer.ok, JSON.stringify(said)).toBe(true);
  return said;
}

const fetched = async (address: string, file: string) => {
  const answer = await fetch(`${app.url}/api/reports/${address}/${file}`);
  expect(answer.status).toBe(200);
  return Buffer.from(await answer.arrayBuffer());
};

const saved = (name: string, bytes: Buffer): string => {
  const file = path.join(folder, name);
  writeFileSync(file, bytes);
  return pathToFileURL(file).href;
};

/** A page without network that notes what it says and asks for. */
async function away(options: Parameters<App['newPage']>[0] = {}): Promise<{ page: Page; heard: string[] }> {
  const page = await app.newPage({ offline: true, ...options });
  const heard: string[] = [];
  page.on('console', (m) => heard.push(m.text()));
  page.on('pageerror', (e) => heard.push(e.message));
  page.on('request', (r) => /^(file|data):/.test(r.url()) || heard.push(r.url()));
  return { page, heard };
}

describe('a published version as one page', () => {
  it('opens from disk without a request or a message, whatever the screen, and prints', async () => {
    expect(addresses.length).toBeGreaterThan(5);
    for (const address of addresses) {
      const bytes = await fetched(address, 'page.html');
      expect(bytes.length, address).toBeLessThan(500_000);
      const url = saved(`${address}.html`, bytes);
      for (const options of [{}, { viewport: { width: 390, height: 844 }, colorScheme: 'dark' as const }]) {
        const { page, heard } = await away(options);
        await page.goto(url);
        await expect.poll(() => page.getByRole('heading', { level: 1 }).isVisible()).toBe(true);
        const ladder = page.getByRole('img', { name: / by specimen: / });
        expect(await ladder.filter({ visible: true }).count(), address).toBe(1);
        await expect.poll(() => page.locator('button').count()).toBe(0);
        expect(await page.evaluate(() => document.documentElement.scrollWidth <= window.innerWidth)).toBe(true);
        expect(heard, address).toEqual([]);
        await page.close();
      }
      const { page } = await away();
      await page.goto(url);
      const pdf = path.join(folder, 'page.pdf');
      await page.pdf({ path: pdf, format: 'A4' });
      const pages = Number(/Pages:\s+(\d+)/.exec(execFileSync('pdfinfo', [pdf], { encoding: 'utf8' }))?.[1]);
      expect(pages, address).toBeLessThanOrEqual(8);
      await page.close();
    }
  });

  it('keeps the rules of access, light and dark', async () => {
    const url = saved('page.html', await fetched(addresses[0], 'page.html'));
    for (const options of [{}, { viewport: { width: 390, height: 844 }, colorScheme: 'dark' as const }]) {
      // the rules are asked by a script, which the page's own policy forbids
      const { page } = await away({ ...options, bypassCSP: true });
      await page.goto(url);
      expect(await accessFaults(page)).toEqual([]);
      await page.getByText('Table of this figure').first().click();
      await expect.poll(() => page.getByRole('table').first().isVisible()).toBe(true);
      await page.close();
    }
  });

  it('answers for a part of the reader’s own, offline, and refuses what nobody measured', async () => {
    const { page, heard } = await away();
    await page.goto(saved('part.html', await fetched(addresses[0], 'page.html')));
    const says = page.locator('#part-says');
    const answer = async () => (await says.innerText()).replaceAll('\u00a0', ' ');
    await page.getByLabel('Power / W').fill('95');
    await page.getByLabel('Contact area / mm²').fill('600');
    await page.getByLabel('Material', { exact: true }).selectOption('Wick 60');
    await page.getByLabel('compared with').selectOption('Loam White');
    expect(await answer()).toMatch(/^On 95 W over 600 mm² Wick 60 would run \d\.\d K cooler than Loam White, .* in a set-up like these\.$/);
    // the other way round it is the same difference
    const cooler = /run ([\d.]+) K/.exec(await answer())?.[1];
    await page.getByLabel('Material', { exact: true }).selectOption('Loam White');
    expect(await answer()).toBe('Choose two different materials.');
    await page.getByLabel('compared with').selectOption('Wick 60');
    expect(await answer()).toContain(`Loam White would run ${cooler} K warmer than Wick 60`);
    await page.getByLabel('Contact area / mm²').fill('456');
    expect(await answer()).toContain('456 mm² lies outside');
    await page.getByLabel('Contact area / mm²').fill('457');
    expect(await answer()).toContain('On 95 W over 457 mm²');
    await page.getByLabel('Power / W').fill('much');
    expect(await answer()).toContain('Power is a number');
    expect(heard).toEqual([]);
    await page.close();
    // one that compares coolers has no materials to answer for
    const other = await away();
    await other.page.goto(saved('coolers.html', await fetched(addresses[3], 'page.html')));
    await expect.poll(() => other.page.getByLabel('Power / W').count()).toBe(0);
    await other.page.close();
  });

  it('is cited by who, title, version, date and checksum, for people and for programs', async () => {
    const [address] = addresses;
    const { page } = await away();
    await page.goto(saved('page.html', await fetched(address, 'page.html')));
    const cited = page.getByText(
      /^Mara K\. <\/script><b> \(\d{4}\)\. Eight materials on the TM-6 lid, version 1\. Hut <lab> & friends\. Published /,
    );
    expect(await cited.innerText()).toMatch(/SHA-256 [0-9a-f]{64}\.$/);
    const told = JSON.parse(await page.locator('script[type="application/ld+json"]').innerText());
    expect(told).toMatchObject({
      '@type': 'Report',
      version: '1',
      author: { name: 'Mara K. </script><b>' },
      publisher: { name: 'Hut <lab> & friends' },
    });
    expect(told.identifier).toMatch(/^sha256:[0-9a-f]{64}$/);
    await page.close();
  });

  it('says that it was withdrawn, and why', async () => {
    const address = addresses[2];
    await send(`/api/reports/${address}/withdrawn`, 'PUT', { withdrawn: true, reason: 'The probe was <loose>.', who: 'M.K.' });
    const { page } = await away();
    await page.goto(saved('withdrawn.html', await fetched(address, 'page.html')));
    expect(await page.getByRole('alert').innerText()).toMatch(/^Withdrawn on .* by M\.K\.: The probe was <loose>\./);
    await page.close();
  });

  it('is a folder for a website too, the same whenever it is asked for, whose drawings stand alone and in a frame', async () => {
    const [address] = addresses;
    const zip = await fetched(address, 'folder.zip');
    expect((await fetched(address, 'folder.zip')).equals(zip)).toBe(true);
    const parts = await partsOf(zip);
    expect([...parts.keys()].filter((n) => !n.startsWith('tables/'))).toEqual([
      ...['index.html', 'figures/ladder.svg', 'figures/drift.svg', 'figures/ladder.html', 'figures/drift.html'],
      ...['report.json', 'report.md', 'metadata.json'],
    ]);
    const svg = parts.get('figures/ladder.svg') as Buffer;
    expect((await fetched(address, 'ladder.svg')).equals(svg)).toBe(true);
    saved('ladder.html', parts.get('figures/ladder.html') as Buffer);
    const { page, heard } = await away();
    await page.goto(saved('ladder.svg', svg));
    await expect.poll(() => page.locator('text', { hasText: 'Slip Felt 0.5' }).count()).toBe(1);
    await page.goto(saved('host.html', Buffer.from('<title>Host</title><iframe src="ladder.html" width="700" height="400"></iframe>')));
    const framed = page.frameLocator('iframe').getByRole('img', { name: / by specimen: Eight materials/ });
    expect(await framed.evaluate((s) => s.getBoundingClientRect().width)).toBeCloseTo(700, 0);
    expect(heard).toEqual([]);
    await page.close();
  });
});
