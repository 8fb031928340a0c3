import type { ElementHandle, Locator, Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type App, open, startApp } from './app.ts';

let app: App;
beforeAll(async () => {
  app = await startApp('demo');
});
afterAll(() => app.stop());

/** Fields of a page that a person may type into, with everything opened that opens in place. */
async function fieldsOf(page: Page) {
  const isClosed = page.locator('main details:not([open]) > summary, main [aria-expanded=false]:not([aria-haspopup])');
  for (let tries = 0; tries < 40 && (await isClosed.count()) > 0; tries++) {
    const first = isClosed.first();
    if (!(await first.isVisible())) break;
    await first.click();
  }
  return page
    .locator('main')
    .locator('textarea, input:is([type=text],[type=number],[type=date],[type=time],[type=url],:not([type]))')
    .and(page.locator(':visible:enabled:not([readonly]):not([data-own-keeping] *)'));
}

/** Another text of the kind that a field takes, unlike that of any other field. */
async function another(field: ElementHandle, i: number): Promise<string> {
  const value = await field.inputValue();
  const type = await field.getAttribute('type');
  if (type === 'date') return `2031-05-${String((i % 28) + 1).padStart(2, '0')}`;
  if (type === 'time') return `07:${String(i % 60).padStart(2, '0')}`;
  const isNumber = type === 'number' || (await field.getAttribute('inputmode')) === 'decimal' || /^[\d.]+$/.test(value);
  return isNumber ? `${Number(value || 3) + i + 1}` : `${value}kept ${i}`;
}

/** What stands in each field, behind its name. */
const texts = (fields: Locator) =>
  fields.evaluateAll((all) =>
    all.map((e) => `${e.getAttribute('aria-label') ?? (e as HTMLInputElement).labels?.[0]?.textContent}: ${(e as HTMLInputElement).value}`),
  );

describe('What is typed into a form and not stored', () => {
  const places = [
    ['/studies/new', 3],
    ['/studies/2/plan', 10],
    ['/studies/2/mounts', 1],
    ['/mounts/41', 1],
    ['/studies/1/results', 1],
    ['/studies/1/report', 2],
    ['/settings', 2],
    ['/rigs/2/teardown', 2],
    ...['rigs', 'coolers', 'materials', 'instruments', 'fans'].map((s): [string, number] => [`/shelf/${s}/new`, 3]),
    ['/shelf/rigs/1', 5],
    ['/tools/stack', 3],
    ['/tools/conductivity', 3],
    ['/tools/noise', 1],
    ['/tools/dose', 2],
    ['/tools/tightening?mount=41', 1],
  ] as [string, number][];
  it.each(places)('is back on %s after the page was lost', async (place, least) => {
    const page = await app.newPage();
    await open(page, app.url + place);
    const fields = await (await fieldsOf(page)).elementHandles();
    expect(fields.length).toBeGreaterThanOrEqual(least);
    for (const [i, field] of fields.entries()) await field.fill(await another(field, i));
    // a plan stores what it can by itself; a range of which one end is missing waits for the other
    if (place.endsWith('/plan')) await page.waitForTimeout(3000);
    const typed = await texts(await fieldsOf(page));
    const context = page.context();
    await page.close({ runBeforeUnload: false });
    const next = await context.newPage();
    await open(next, app.url + place);
    const again = await fieldsOf(next);
    const missing = async () => {
      const shown = await texts(again);
      // the warmest room stands on the plan twice, and what was typed last counts
      return typed.filter((t, i) => t !== shown[i] && !t.startsWith('Warmest room')).map((t) => `${t} (${shown[typed.indexOf(t)]})`);
    };
    await expect.poll(missing, { timeout: 20_000 }).toEqual([]);
    await context.close();
  });
});
