import { randomUUID } from 'node:crypto';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { accessFaults } from './access.ts';
import { type App, open, startApp } from './app.ts';

let app: App;
let page: Page;
beforeAll(async () => {
  app = await startApp('empty');
  page = await app.newPage();
  page.on('dialog', (d) => void d.accept());
});
afterAll(async () => app.stop());

const faults = (on = page) => accessFaults(on);
const post = async (path: string, body: object) =>
  (
    await fetch(`${app.url}${path}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', origin: app.url },
      body: JSON.stringify(body),
    })
  ).json();
const places = async () => (await fetch(`${app.url}/api/places`)).json();

/** A study of two things on two mounts each, typed. */
async function made(title: string): Promise<{ id: number; mounts: { id: number; number: number }[]; runs: number[] }> {
  const rows = ['Amber', 'Birch'].flatMap((specimen, s) =>
    [1, 2].map((mount) => ({
      ...{ import_id: randomUUID(), specimen, mount, throttled: 'no' },
      texts: { mean_c: String(60 + 4 * s + 0.2 * mount), room_c: '20' },
    })),
  );
  const { study_id } = await post('/api/typed-runs/table', { study_title: title, kind: 'paste', rig: 'North bench', rows });
  const { specimens, mounts } = await places();
  const own = specimens.filter((s: { study_id: number }) => s.study_id === study_id).map((s: { id: number }) => s.id);
  await open(page, `${app.url}/studies/${study_id}/runs`);
  const runs = await page
    .getByRole('link', { name: /^Run \d: / })
    .evaluateAll((a) => a.map((l) => Number(l.getAttribute('href')?.split('/').at(-1))));
  return { id: study_id, mounts: mounts.filter((m: { specimen_id: number }) => own.includes(m.specimen_id)), runs };
}

/** Presses Undo in the bar that says what was done, and waits for the page after. */
async function undo(words: string | RegExp): Promise<void> {
  await page.getByRole('status').filter({ hasText: words }).waitFor();
  await Promise.all([page.waitForEvent('load'), page.getByRole('button', { name: 'Undo', exact: true }).click()]);
  await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
  await expect.poll(() => page.getByRole('button', { name: 'Undo', exact: true }).count()).toBe(0);
}
/** Presses what deletes a thing, reads what goes with it, and confirms. */
async function remove(button: string | RegExp, told: string, confirm: string): Promise<void> {
  await page.getByRole('button', { name: button }).click();
  await page.getByText(told).waitFor();
  expect(await faults()).toEqual([]);
  await Promise.all([page.waitForEvent('load'), page.getByRole('button', { name: confirm, exact: true }).click()]);
  await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
}
const study = async (id: number) => (await places()).studies.find((s: { id: number }) => s.id === id);
const menu = async (item: string) => {
  await page.getByRole('button', { name: /^More about/ }).click();
  await page.getByRole('menuitem', { name: item }).click();
};
const settled = () => page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);

describe('a study', () => {
  it('is renamed, copied, archived and deleted, and each is undone', async () => {
    const { id } = await made('Summer');
    await open(page, `${app.url}/studies/${id}/results`);
    await menu('Rename the study …');
    await page.getByLabel('New title').fill('Late summer');
    await Promise.all([page.waitForEvent('load'), page.getByRole('button', { name: 'Rename', exact: true }).click()]);
    expect((await study(id)).title).toBe('Late summer');
    await settled();
    await undo('Summer is now called Late summer.');
    expect((await study(id)).title).toBe('Summer');

    await menu('Copy without its data …');
    expect(await faults()).toEqual([]);
    await page.getByRole('button', { name: 'Copy the study', exact: true }).click();
    await page.waitForURL((u) => u.pathname !== `/studies/${id}/results` && u.pathname.endsWith('/plan'));
    await settled();
    const copy = Number(/studies\/(\d+)/.exec(page.url())?.[1]);
    expect((await study(copy)).title).toBe('Summer (copy)');
    expect(
      (await places()).specimens.filter((s: { study_id: number }) => s.study_id === copy).map((s: { name: string }) => s.name),
    ).toEqual(['Amber', 'Birch']);
    await undo('Summer (copy) is a copy without the data.');
    expect(await study(copy)).toBeUndefined();

    await open(page, `${app.url}/studies/${id}/results`);
    await menu('Archive the study');
    await page.getByText('archived', { exact: true }).waitFor();
    await settled();
    await open(page, `${app.url}/studies`);
    await expect.poll(() => page.getByText('Archived (1)').isVisible()).toBe(true);
    await undo('Summer is archived');
    await expect.poll(() => page.getByText('Archived (1)').count()).toBe(0);

    await open(page, `${app.url}/studies/${id}/results`);
    await menu('Delete the study …');
    await page.getByText('Delete Summer with 4 mounts and 4 runs?').waitFor();
    await page.getByRole('button', { name: 'Cancel' }).click();
    expect(await study(id)).toBeDefined();
    await menu('Delete the study …');
    await page.getByRole('button', { name: 'Delete the study', exact: true }).click();
    await page.waitForURL(/\/studies$/);
    await settled();
    expect(await study(id)).toBeUndefined();
    await undo('Summer is in the bin.');
    expect(page.url()).toBe(`${app.url}/studies/${id}/results`);
    expect((await page.getByRole('heading', { level: 1 }).innerText()).replace(/\s+/g, ' ')).toContain(
      'Amber runs 4.0 K cooler than Birch',
    );
  });
});

describe('a specimen', () => {
  it('is renamed and deleted where it stands in the plan, and each is undone', async () => {
    const { id } = await made('Specimens');
    await open(page, `${app.url}/studies/${id}/plan`);
    await page.getByRole('button', { name: 'Rename Amber' }).click();
    await page.getByLabel('New name').fill('Birch');
    await page.keyboard.press('Enter');
    await page.getByText('There is already a specimen "Birch" in this study').waitFor();
    await page.getByLabel('New name').fill('Amber nine');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'Rename Amber nine' }).waitFor();
    await undo('Amber is now called Amber nine.');
    await page.getByRole('button', { name: 'Rename Amber', exact: true }).waitFor();
    await remove('Delete Birch …', 'Delete Birch with 2 mounts and 2 runs?', 'Delete the specimen');
    await expect.poll(() => page.getByRole('button', { name: 'Rename Birch' }).count()).toBe(0);
    await undo('Birch is in the bin.');
    await page.getByRole('button', { name: 'Rename Birch' }).waitFor();
  });
});

describe('a mount', () => {
  it('is moved, deleted, or taken back as begun by mistake, and each is undone', async () => {
    const { id, mounts } = await made('Mounts');
    await open(page, `${app.url}/mounts/${mounts[0].id}`);
    await page.getByRole('button', { name: /^Move this mount/ }).click();
    await page.getByLabel('Specimen', { exact: true }).selectOption('Birch');
    await page.getByLabel('Reason for moving it').fill('Wrong label on the syringe');
    expect(await faults()).toEqual([]);
    await Promise.all([page.waitForEvent('load'), page.getByRole('button', { name: 'Move the mount' }).click()]);
    await page.getByText('Birch, mount 3').first().waitFor();
    await expect
      .poll(() => page.getByText(/Amber, mount 1, North bench → Birch, mount 3, North bench. Wrong label on the syringe/).isVisible())
      .toBe(true);
    await settled();
    await undo('The mount is mount 3 there now');
    await page.getByText('Amber, mount 1').first().waitFor();

    await remove('Delete this mount …', 'Delete Amber, mount 1 with 1 run?', 'Delete the mount');
    expect(page.url()).toContain(`/studies/${id}/mounts`);
    expect((await places()).mounts.map((m: { id: number }) => m.id)).not.toContain(mounts[0].id);
    await undo('Amber, mount 1 is in the bin.');
    expect(page.url()).toBe(`${app.url}/mounts/${mounts[0].id}`);

    const { specimens, rigs } = await places();
    const amber = specimens.find((s: { study_id: number }) => s.study_id === id);
    const begun = await post(`/api/studies/${id}/mounts`, { specimen_id: amber.id, rig_id: rigs[0].id });
    await open(page, `${app.url}/mounts/${begun.id}`);
    await remove('Begun by mistake …', 'Delete Amber, mount 3?', 'Delete the mount');
    expect((await places()).mounts.map((m: { id: number }) => m.id)).not.toContain(begun.id);
    await undo('Amber, mount 3 is in the bin.');
    await expect.poll(() => page.getByRole('list', { name: 'Steps of this mount' }).isVisible()).toBe(true);
  });
});

describe('a run, and the draft of a report', () => {
  it('are moved and deleted, and each is undone', async () => {
    const { id, runs, mounts } = await made('Runs');
    await open(page, `${app.url}/runs/${runs[0]}`);
    await page.getByRole('button', { name: /^Move to another mount/ }).click();
    await page.getByLabel('Mount', { exact: true }).selectOption({ label: 'Mount 2, North bench' });
    await Promise.all([page.waitForEvent('load'), page.getByRole('button', { name: 'Move the run' }).click()]);
    await page.getByRole('heading', { name: 'Amber, mount 2, run 2' }).waitFor();
    await settled();
    await undo('The run is moved');
    await page.getByRole('heading', { name: 'Amber, mount 1, run 1' }).waitFor();
    await remove('Delete this run …', 'Delete Amber, mount 1, run 1?', 'Delete the run');
    await expect.poll(() => page.getByRole('link', { name: /^Run \d: / }).count()).toBe(3);
    await undo('Amber, mount 1, run 1 is in the bin.');
    await page.getByRole('heading', { name: 'Amber, mount 1, run 1' }).waitFor();

    await open(page, `${app.url}/studies/${id}/report`);
    await page.getByText('Add your own text').first().click();
    await page.getByRole('textbox').first().fill('Read this first.');
    await page.getByRole('button', { name: 'Save sections' }).click();
    await page.getByRole('button', { name: 'Stored' }).waitFor();
    await open(page, page.url());
    await remove('Delete the draft …', 'Delete Report of Runs?', 'Delete the draft');
    await expect.poll(() => page.getByText('Read this first.').count()).toBe(0);
    await undo('Report of Runs is in the bin.');
    await page.getByText('Read this first.').first().waitFor();
    expect(mounts).toHaveLength(4);
  });
});

describe('the bin', () => {
  it('lists what was deleted, restores it, and deletes it for good', async () => {
    const { mounts } = await made('Bin');
    for (const m of mounts.slice(0, 3)) await post('/api/bin', { kind: 'mount', id: m.id, who: 'EB', reason: 'Leaked' });
    await open(page, `${app.url}/studies`);
    await page.getByRole('link', { name: 'Bin', exact: true }).last().click();
    await page.getByRole('heading', { name: 'Bin' }).waitFor();
    await settled();
    const rows = page.getByRole('row');
    expect(await rows.nth(1).innerText()).toMatch(/Birch, mount 1[\s\S]*Mount of Bin, with 1 run[\s\S]*EB[\s\S]*Leaked[\s\S]*30 days/);
    expect(await faults()).toEqual([]);
    await page.getByRole('button', { name: 'Restore Birch, mount 1' }).click();
    await page.getByRole('link', { name: 'open it' }).waitFor();
    expect((await places()).mounts.map((m: { id: number }) => m.id)).toContain(mounts[2].id);
    await page.getByRole('button', { name: 'Delete Amber, mount 2 for good' }).click();
    await page.getByRole('button', { name: 'Delete Amber, mount 2 for good' }).waitFor({ state: 'detached' });
    await page.getByRole('button', { name: 'Empty the bin' }).click();
    await page.getByText('Nothing is in the bin.').waitFor();
  });
});

describe('a decision', () => {
  it('about a run, a mount or a field of the plan is undone where it was made', async () => {
    const { id, runs } = await made('Decisions');
    await open(page, `${app.url}/runs/${runs[0]}`);
    await page.getByRole('button', { name: 'Exclude …' }).click();
    await page.getByLabel('Reason for excluding it').fill('The door was open');
    await Promise.all([page.waitForEvent('load'), page.getByRole('button', { name: 'Exclude the run' }).click()]);
    await settled();
    await page.getByText('Excluded by hand').first().waitFor();
    await undo('The run is excluded.');
    await expect.poll(() => page.getByText('Excluded by hand').count()).toBe(0);

    await open(page, `${app.url}/studies/${id}/results`);
    const behind = page.getByRole('region', { name: 'Mounts behind the verdicts' });
    await behind.getByRole('button').first().click();
    await behind.getByLabel('Reason for leaving it out').fill('Tilted');
    await Promise.all([page.waitForEvent('load'), behind.getByRole('button', { name: 'Leave out' }).click()]);
    await settled();
    await behind.getByText('left out: mount 1, Tilted').waitFor();
    await undo(/^\w+, mount 1, is left out\./);
    await expect.poll(() => behind.getByText('left out: mount 1').count()).toBe(0);

    await open(page, `${app.url}/studies/${id}/plan`);
    const mounts = page.getByLabel('Mounts of each', { exact: true });
    await mounts.fill('7');
    await page.getByRole('button', { name: 'Undo mounts of each' }).click();
    await expect.poll(async () => (await (await fetch(`${app.url}/api/studies/${id}/plan`)).json()).plan.mounts ?? null).toBeNull();
    await expect.poll(() => mounts.inputValue()).toBe('');
  });
});

describe('a sheet of the shelf', () => {
  it('that nothing uses is deleted, and back with one press', async () => {
    const { id } = await post('/api/shelf/fans', { name: 'Spare 120', sheet: {} });
    await open(page, `${app.url}/shelf/fans/${id}`);
    await Promise.all([page.waitForEvent('load'), page.getByRole('button', { name: 'Delete sheet' }).click()]);
    await settled();
    expect(new URL(page.url()).pathname).toBe('/shelf/fans');
    await expect.poll(() => page.getByRole('link', { name: 'Spare 120' }).count()).toBe(0);
    await undo('Spare 120 is in the bin.');
    await page.getByRole('heading', { name: 'Spare 120' }).waitFor();
  });
});

describe('what is typed and not stored', () => {
  it('is back after the browser went away, until it is stored or discarded', async () => {
    const context = page.context();
    let tab = await context.newPage();
    const again = async (path: string) => {
      await tab.close();
      tab = await context.newPage();
      await open(tab, `${app.url}${path}`);
    };
    await open(tab, `${app.url}/studies`);
    await tab.getByLabel('Title').fill('Autumn');
    await tab.getByLabel('Question').fill('Does it last\nthe winter?');
    await again('/studies');
    await tab.getByText('What you typed here before is back in 2 fields.').waitFor();
    await expect.poll(() => tab.getByLabel('Title').inputValue()).toBe('Autumn');
    await expect.poll(() => tab.getByLabel('Question').inputValue()).toBe('Does it last\nthe winter?');
    expect(await faults(tab)).toEqual([]);
    await Promise.all([tab.waitForEvent('load'), tab.getByRole('button', { name: 'Discard' }).click()]);
    await tab.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    await expect.poll(() => tab.getByLabel('Title').inputValue()).toBe('');
    await tab.getByLabel('Title').fill('Autumn');
    await tab.getByRole('button', { name: 'Start the study' }).click();
    await tab.waitForURL(/\/plan$/);
    await again('/studies');
    await tab.waitForTimeout(500);
    // it is stored, so nothing is put back
    await expect.poll(() => tab.getByLabel('Title').inputValue()).toBe('');
    await expect.poll(() => tab.getByText('What you typed here before is back').count()).toBe(0);
    await tab.close();
  });

  it('is back in the form of readings after Escape, and in the table after the browser went away', async () => {
    await open(page, `${app.url}/studies`);
    await page.getByRole('button', { name: 'Enter readings' }).click();
    await page.getByLabel('Title of the new study').fill('Typed at night');
    await page
      .getByLabel(/^Highest reading/)
      .first()
      .fill('61,3');
    await page.keyboard.press('Escape');
    await page.getByRole('dialog').waitFor({ state: 'detached' });
    await page.getByRole('button', { name: 'Enter readings' }).click();
    await expect.poll(() => page.getByLabel('Title of the new study').inputValue()).toBe('Typed at night');
    await expect
      .poll(() =>
        page
          .getByLabel(/^Highest reading/)
          .first()
          .inputValue(),
      )
      .toBe('61,3');
    await page.getByRole('button', { name: 'A table of many runs' }).click();
    await page.getByLabel('Specimen or state, row 1').fill('Amber');
    await page.getByRole('button', { name: 'Add row' }).click();
    await page.getByLabel('Highest reading / °C, row 2').fill('60.4');
    await page.reload();
    await settled();
    await page.getByRole('button', { name: 'Enter readings' }).click();
    await page.getByRole('button', { name: 'A table of many runs' }).click();
    await page.getByText('The table you entered before is back.').waitFor();
    await expect.poll(() => page.getByLabel('Specimen or state, row 2').inputValue()).toBe('Amber');
    await expect.poll(() => page.getByLabel('Highest reading / °C, row 2').inputValue()).toBe('60.4');
    await page.getByRole('dialog').getByRole('button', { name: 'Discard' }).first().click();
  });
});
