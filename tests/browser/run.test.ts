import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { twoRooms } from '../twoRooms.ts';
import { accessFaults } from './access.ts';
import { type App, open, startApp } from './app.ts';

const folder = new URL('../reference/logs/', import.meta.url);

let app: App;
let page: Page;
let run: number;

/** Imports a log the way a program would. */
async function importLog(
  name: string,
  place: object,
  bytes: BlobPart = readFileSync(new URL(name, folder)),
): Promise<{ run_id: number; study_id: number }> {
  const form = new FormData();
  form.set('plan', JSON.stringify({ import_id: randomUUID(), reading: {}, place }));
  form.append('files', new File([bytes], name));
  const response = await fetch(`${app.url}/api/imports`, { method: 'POST', body: form });
  const body = await response.json();
  if (!response.ok) throw new Error(body.error);
  return body;
}

beforeAll(async () => {
  app = await startApp();
  const place = { study_title: 'Read by hand', specimen_name: 'Loam White', specimen_kind: 'paste', rig_name: 'Bench', rig_limit_c: 95 };
  const first = await importLog('plain.csv', place);
  run = first.run_id;
  const { specimens, rigs } = await (await fetch(`${app.url}/api/places`)).json();
  await importLog('lasting_limit.csv', { study_id: first.study_id, specimen_id: specimens[0].id, rig_id: rigs[0].id });
  page = await app.newPage({ viewport: { width: 1280, height: 1100 } });
  await open(page, `${app.url}/runs/${run}`);
});
afterAll(() => app.stop());

const windowWords = async () => (await page.getByTestId('window').innerText()).replace(/\s+/g, ' ');
const ticks = async () =>
  (await page.locator('text[orientation="bottom"].recharts-cartesian-axis-tick-value').allTextContents()).filter((t) => t !== '');

describe('the window of a run', () => {
  it('answers while it is nudged by keys and dragged by mouse, and can be left as it was', async () => {
    await page.getByTestId('window').waitFor();
    const before = await windowWords();
    expect(before).toMatch(/^Window \d+ to \d+ s [\d.]+ K \(95 % [\d.]+ to [\d.]+\) steady: slope/);
    const begin = page.getByRole('slider', { name: 'Start of the averaging window' });
    const from = Number(await begin.getAttribute('aria-valuenow'));
    await begin.press('ArrowLeft');
    await begin.press('Shift+ArrowLeft');
    expect(Number(await begin.getAttribute('aria-valuenow'))).toBe(from - 11);
    await expect.poll(windowWords).toMatch(new RegExp(`^Window ${from - 11} to \\d+ s, not kept yet`));
    const box = await begin.boundingBox();
    if (!box) throw new Error('The handle is not there.');
    await page.mouse.move(box.x + box.width / 2, box.y + 60);
    await page.mouse.down();
    await page.mouse.move(box.x - 420, box.y + 60, { steps: 6 });
    await page.mouse.up();
    expect(Number(await begin.getAttribute('aria-valuenow'))).toBeLessThan(from - 300);
    const mean = (words: string) => words.match(/[\d.]+(?= K)/)?.[0];
    // the longer window takes in the last of the climb
    await expect.poll(async () => Number(mean(await windowWords())) < Number(mean(before))).toBe(true);
    await page.getByRole('button', { name: 'Discard change' }).click();
    await expect.poll(windowWords).toBe(before);
  });

  it('is kept with the automatic value beside it, and goes back to it', async () => {
    const automatic = (await windowWords()).match(/[\d.]+(?= K)/)?.[0];
    const whole = page.getByRole('button', { name: /^Window from \d+ to \d+ s; arrow keys move it$/ });
    for (let i = 0; i < 6; i++) await whole.press('Shift+ArrowLeft');
    await page.getByRole('button', { name: 'Keep this window' }).click();
    await page.getByText('Window by hand').waitFor();
    await page
      .getByText(new RegExp(`^By itself: ${automatic} K ± [\\d.]+ over \\d+ to \\d+ s; by hand: [\\d.]+ K ± [\\d.]+ over`))
      .waitFor();
    await page.getByText('1 change so far').click();
    await page.getByText('Window set by hand').waitFor();
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    await page.getByRole('button', { name: 'Back to the automatic window' }).click();
    await page.getByText('2 changes so far').waitFor();
    await expect.poll(() => page.getByText('Window by hand').count()).toBe(0);
  });
});

describe('the trace of a run', () => {
  it('is zoomed and moved by buttons, keys and wheel', async () => {
    await open(page, `${app.url}/runs/${run}`);
    await page.locator('.recharts-line-curve').first().waitFor();
    const all = await ticks();
    await page.getByRole('button', { name: 'Load', exact: true }).click();
    await expect.poll(ticks).not.toEqual(all);
    await page.getByRole('button', { name: 'Window', exact: true }).click();
    const near = await ticks();
    const plot = page.getByRole('region', { name: /^Trace: plus and minus zoom/ });
    await plot.press('ArrowLeft');
    await expect.poll(ticks).not.toEqual(near);
    await plot.press('0');
    await expect.poll(ticks).toEqual(all);
    await plot.hover();
    await page.keyboard.down('Control');
    await page.mouse.wheel(0, -400);
    await page.keyboard.up('Control');
    await expect.poll(ticks).not.toEqual(all);
    await page.getByRole('button', { name: 'Whole run' }).click();
    await expect.poll(ticks).toEqual(all);
  });

  it('has another run laid beside it, on the same start of load', async () => {
    const lines = () => page.locator('.recharts-line-curve[stroke-dasharray="4 3"]').count();
    expect(await lines()).toBe(0);
    await page.getByText('Lay beside').click();
    await page.getByLabel('Loam White, mount 2, run 1').check();
    await expect.poll(lines).toBe(1);
  });

  it('carries notes at their times, and keeps the rules of access', async () => {
    await page.getByText('Add a note at a time').click();
    await page.getByLabel('At / min').fill('999');
    await page.getByText(/^A number from 0 to \d+/).waitFor();
    await page.getByLabel('At / min').fill('6');
    await page.getByLabel('Note').fill('door opened');
    await page.getByRole('button', { name: 'Pin it' }).click();
    await expect.poll(() => page.getByText('door opened').count()).toBe(2);
    expect(await accessFaults(page)).toEqual([]);
    await page.getByRole('button', { name: 'Delete the note' }).click();
    await expect.poll(() => page.getByText('door opened').count()).toBe(0);
  });
});

describe('a judgement', () => {
  it('excludes a run with its reason, and opens it again', async () => {
    await page.getByRole('button', { name: 'Exclude …' }).click();
    await expect.poll(() => page.getByRole('button', { name: 'Exclude the run' }).isDisabled()).toBe(true);
    await page.getByLabel('Reason for excluding it').fill('door of the room opened');
    await page.getByRole('button', { name: 'Exclude the run' }).click();
    await page.getByText('Excluded by hand').waitFor();
    await page.getByText('door of the room opened').first().waitFor();
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    await page.getByRole('button', { name: 'Reopen' }).click();
    await page.getByText('Not judged yet').waitFor();
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    await page.getByRole('button', { name: 'Accept the run' }).click();
    await page.getByText('Accepted', { exact: true }).first().waitFor();
  });
});

describe('a run that needs a decision', () => {
  it('waits on the bench and in the results, and counts once a person says what stands', async () => {
    const place = {
      study_title: 'Two rooms',
      specimen_name: 'Alder Grey',
      specimen_kind: 'paste',
      rig_name: 'Shelf bench',
      rig_limit_c: 95,
    };
    const { run_id, study_id } = await importLog('apart.csv', place, twoRooms(7, 5));
    await open(page, app.url);
    const listed = page.getByRole('region', { name: 'Needs your decision' }).getByRole('link').filter({ hasText: 'Alder Grey' });
    expect(await listed.innerText()).toMatch(/Room probes disagree[\s\S]*Alder Grey, mount 1, run 1/);
    await open(page, `${app.url}/studies/${study_id}/results`);
    await page.getByRole('heading', { name: '1 run needs your decision' }).waitFor();
    await page.getByRole('link', { name: 'Alder Grey, mount 1, run 1' }).first().click();
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    const panel = page.getByRole('region', { name: 'Needs your decision' });
    expect(await accessFaults(page)).toEqual([]);
    const ways = (await panel.locator('label').allInnerTexts()).map((t) => t.replace(/\s+/g, ' '));
    expect(ways[0]).toMatch(/^Leave Room out [\d.]+ K$/);
    expect(ways.at(-1)).toMatch(/^Accept it as it is [\d.]+ K$/);
    const chosen = panel.getByLabel(/Leave Shelf air ambient out/);
    await chosen.focus();
    await page.keyboard.press('Space');
    await expect.poll(() => panel.getByRole('button', { name: 'Save decision' }).isDisabled()).toBe(true);
    await panel.getByLabel('Why').fill('hangs in the shelf');
    await panel.getByRole('button', { name: 'Save decision' }).click();
    await expect.poll(() => page.getByRole('region', { name: 'Needs your decision' }).count()).toBe(0);
    await page.getByText('1 change so far').click();
    await page.getByText('hangs in the shelf').waitFor();
    const { rise } = { rise: Number(ways[1].match(/[\d.]+(?= K)/)?.[0]) };
    expect(await page.locator('main').innerText()).toContain(rise.toFixed(1));
    expect((await (await fetch(`${app.url}/api/runs/${run_id}/judgement`)).json()).now.valid).toBe(true);
  });
});
