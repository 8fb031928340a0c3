import { createHash } from 'node:crypto';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { buffer } from 'node:stream/consumers';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { closeDatabase } from '#app/database/pool';
import { closeWorkers } from '#app/jobs';
import { importPackage } from '#features/exchange/server/importPackage';
import { openPackage } from '#features/exchange/server/openPackage';
import { writePackage } from '#features/exchange/server/writePackage';
import { freshDatabase } from '../database.ts';
import { accessFaults } from './access.ts';
import { type App, open, startApp } from './app.ts';

/** Studies of the demo that are carried to an empty store, and what a person sees of it. */
let demo: App;
let away: App;
const folder = mkdtempSync(path.join(tmpdir(), 'package-in-'));
beforeAll(async () => {
  [demo, away] = [await startApp('demo'), await startApp('empty')];
});
afterAll(async () => {
  await demo.stop();
  await away.stop();
  rmSync(folder, { recursive: true });
});

const fetched = async (app: App, study: number) =>
  Buffer.from(await (await fetch(`${app.url}/api/studies/${study}/package`)).arrayBuffer());
const sha256 = (bytes: Buffer) => createHash('sha256').update(bytes).digest('hex');

describe('the studies of the demo', () => {
  it('come in on an empty store and leave it again with the same bytes', async () => {
    const { studies } = (await (await fetch(`${demo.url}/api/places`)).json()) as { studies: { id: number; title: string }[] };
    expect(studies.length).toBeGreaterThan(5);
    // past the applications: each keeps the demo's simulated benches running, and notes at which ports they are
    const copy = await freshDatabase(inject('demoStore'));
    const empty = await freshDatabase();
    const at = async <T>(url: string, work: () => Promise<T>): Promise<T> => {
      process.env.DATABASE_URL = url;
      const done = await work();
      await closeDatabase();
      return done;
    };
    for (const { id, title } of studies) {
      const bytes = await at(copy.url, async () => buffer((await writePackage(id)).stream));
      const file = path.join(folder, `${id}.zip`);
      writeFileSync(file, bytes);
      const opened = await openPackage(file);
      const [stored, again] = await at(empty.url, async () => [
        await importPackage(opened, { sha256: sha256(bytes) }),
        await buffer((await writePackage(id)).stream),
      ]);
      opened.close();
      expect(stored, title).toMatchObject({ study_id: id, title, differences: [] });
      expect(sha256(again), title).toBe(sha256(bytes));
    }
    await closeWorkers();
    await copy.drop();
    await empty.drop();
  });

  it('are chosen under Studies, shown before anything is stored, cancelled, and brought in', async () => {
    const bytes = await fetched(demo, 2);
    const file = path.join(folder, 'four fillers.zip');
    writeFileSync(file, bytes);
    const page = await away.newPage();
    await open(page, `${away.url}/studies`);
    await page.getByTestId('package-file').setInputFiles(file);
    await page.getByRole('heading', { name: 'Four fillers for the south hut' }).waitFor();
    await expect.poll(() => page.getByText('4 specimens, 12 mounts, 24 runs and 8 photographs').isVisible()).toBe(true);
    expect(await accessFaults(page)).toEqual([]);
    await page.getByRole('button', { name: 'Bring it in' }).click();
    await page.getByRole('button', { name: 'Cancel' }).click();
    await page.getByText('Cancelled. Nothing was stored.').waitFor();
    const titles = async () => (await (await fetch(`${away.url}/api/places`)).json()).titles.map((s: { title: string }) => s.title);
    expect(await titles()).not.toContain('Four fillers for the south hut');
    await page.getByLabel('Your initials').fill('M.K.');
    // what was cancelled lets go of the package a moment later
    await expect
      .poll(
        async () => {
          await page.getByRole('button', { name: 'Bring it in' }).click();
          await page.getByText(/“Four fillers for the south hut” is in|is being brought in already/).waitFor();
          return page.getByText('“Four fillers for the south hut” is in').isVisible();
        },
        { timeout: 120_000 },
      )
      .toBe(true);
    await expect
      .poll(() => page.getByText('24 runs read anew, 12 pairs compared anew: all agrees with the package.').isVisible())
      .toBe(true);
    expect(await accessFaults(page)).toEqual([]);
    await page.getByRole('link', { name: 'See the results' }).click();
    await page.getByText('Imported from another lab').click();
    await expect.poll(() => page.getByText(sha256(bytes)).isVisible()).toBe(true);
    await expect.poll(() => page.getByText('imported by M.K.').isVisible()).toBe(true);
    expect(await accessFaults(page)).toEqual([]);
    await page.goto(`${away.url}/studies`);
    await expect.poll(() => page.getByText('Measured by another lab').count()).toBe(1);
  });

  it('are refused in words where they are there already, or are none', async () => {
    const page = await away.newPage();
    await open(page, away.url);
    const drop = async (name: string, buffer: Buffer) => {
      await page.getByTestId('log-files').setInputFiles({ name, mimeType: 'application/zip', buffer });
    };
    await drop('again.zip', await fetched(demo, 2));
    await page.getByText('It cannot be brought in as it is; nothing is stored.').waitFor();
    await expect.poll(() => page.getByText(/This study, or a part of it, is here already\./).isVisible()).toBe(true);
    await expect.poll(() => page.getByRole('button', { name: 'Bring it in' }).count()).toBe(0);
    await page.getByRole('button', { name: 'Close without bringing it in' }).click();
    await drop('none.zip', Buffer.from('PK, but no ZIP'));
    await page.getByText(/none\.zip cannot be read as a package/).waitFor();
    await page.getByRole('button', { name: 'Close without bringing it in' }).click();
    const gone = await fetch(`${away.url}/api/packages/none`, {
      ...{ method: 'POST', headers: { 'content-type': 'application/json' }, body: '{}' },
    });
    expect(gone.status).toBe(404);
    expect(await gone.json()).toEqual({ error: 'The package is not held here any more; choose the file again.' });
  });
});
