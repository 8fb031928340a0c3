import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { checkDump, openBackup } from '#app/backup/backupFile';
import { contentsWords } from '#app/backup/storeContents';
import { accessFaults } from './access.ts';
import { type App, open, startApp } from './app.ts';

let app: App;
const folder = path.join(mkdtempSync(path.join(tmpdir(), 'settings-')), 'backups');
beforeAll(async () => {
  app = await startApp('empty', () => ({ WARM_GAUGE_BACKUPS: folder }));
});
afterAll(async () => {
  await app.stop();
  rmSync(path.dirname(folder), { recursive: true });
});

describe('the settings', () => {
  it('make a backup, list it, and give it along', async () => {
    const page = await app.newPage();
    await open(page, `${app.url}/settings`);
    const part = page.getByRole('region', { name: 'Backups' });
    await part.getByText(`None yet in ${folder}`).waitFor();
    await part.getByRole('button', { name: 'Back up now' }).click();
    await part.getByText(/The newest was made .*\(0 min ago\), \d+ kB\. 1 backup in/).waitFor();
    await part.getByText('All backups').click();
    const [download] = await Promise.all([page.waitForEvent('download'), part.getByRole('link', { name: /^daily-/ }).click()]);
    const file = path.join(path.dirname(folder), 'taken.zip');
    await download.saveAs(file);
    const backup = await openBackup(file);
    await checkDump(backup);
    expect(contentsWords(backup.about.contents)).toBe('nothing yet');
    backup.close();
    expect(await accessFaults(page)).toEqual([]);
    await page.setViewportSize({ width: 390, height: 844 });
    expect(await accessFaults(page)).toEqual([]);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBe(390);
  });

  it('say why one failed until the next succeeds', async () => {
    await fetch(`${app.url}/api/studies`, {
      ...{ method: 'POST', body: JSON.stringify({ title: 'Kept', margin_k: 1 }), headers: { 'content-type': 'application/json' } },
    });
    for (const name of readdirSync(folder)) rmSync(path.join(folder, name));
    rmSync(folder, { recursive: true });
    // no folder any more, and none can be made
    writeFileSync(folder, '');
    const page = await app.newPage();
    await open(page, `${app.url}/settings`);
    await page.getByRole('button', { name: 'Back up now' }).click();
    await page.getByText(`The last attempt failed: ${folder} is no folder.`).waitFor();
    rmSync(folder);
    await page.getByRole('button', { name: 'Back up now' }).click();
    await page.getByText(/1 backup in/).waitFor();
    await expect.poll(() => page.getByText('The last attempt failed').count()).toBe(0);
  });

  it('keep for how long backups stay', async () => {
    const page = await app.newPage();
    await open(page, `${app.url}/settings`);
    await page.getByLabel('Keep one a day for / days').fill('0');
    await page.getByRole('button', { name: 'Save settings' }).click();
    await page.getByText(/between 1 and 366/).waitFor();
    await page.getByLabel('Keep one a day for / days').fill('14');
    await page.getByRole('button', { name: 'Save settings' }).click();
    await page.getByText('Saved for the lab.').waitFor();
    expect(await (await fetch(`${app.url}/api/settings`)).json()).toMatchObject({ backup_days: 14 });
  });
});
