import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { accessFaults } from './access.ts';
import { type App, open, startApp } from './app.ts';
import { handsOn } from './hands.ts';

let app: App;
beforeAll(async () => {
  app = await startApp('empty');
});
afterAll(async () => app.stop());

describe('how far the clock goes, from an empty store, on a phone', () => {
  it('climbs eight clocks on four mounts, corrects a step, and compares', async () => {
    const page = await app.newPage({ viewport: { width: 390, height: 844 } });
    const hands = handsOn(page);
    await open(page, `${app.url}/studies`);
    await hands.fill('Title', 'How far it clocks');
    await hands.press('Start the study');
    await page.waitForURL(/\/plan$/);
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    const study = Number(/studies\/(\d+)/.exec(page.url())?.[1]);
    await page.locator('summary', { hasText: 'Loads' }).click();
    await hands.press('Add load');
    await page.getByLabel('Name', { exact: true }).last().fill('Climb');
    await page.getByText('Stability ladder: none').click();
    await hands.fill('From / MHz', '2000');
    await hands.fill('to / MHz', '2350');
    await hands.press('Fill ladder');
    await page.getByText('Stability ladder: 8 steps').waitFor();
    await page.getByText('Everything is stored.').waitFor();
    hands.count.clicks += 2;
    hands.count.fields++;

    /** Opens a mount of a specimen that is not there yet. */
    const mountNew = async (specimen: string, rig: string | null) => {
      await open(page, `${app.url}/studies/${study}/mounts`);
      if (rig === null) await hands.select('Specimen', 'a new specimen');
      await hands.fill('Name of the specimen', specimen);
      if (rig !== null) await hands.fill('Name of the rig', rig);
      await hands.press('Already made');
      await page.waitForURL(/\/mounts\/\d+$/);
      hands.count.clicks++;
      await page.getByRole('link', { name: 'Climb the ladder' }).click();
      await page.waitForURL(/\/ladder$/);
      await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    };
    const at = (clock: number) => page.getByRole('heading', { level: 1, name: `${clock} MHz` }).waitFor();
    /** Passes steps up to a clock, and ends the next otherwise. */
    const climbTo = async (clock: number, end: string) => {
      for (let c = 2000; c <= clock; c += 50) {
        await at(c);
        await hands.press('Passed');
      }
      await at(clock + 50);
      await hands.press(end);
      await page.getByRole('heading', { level: 1, name: `Highest passing clock: ${clock} MHz` }).waitFor();
    };
    const nextMount = async () => {
      const here = page.url();
      await hands.press('Climb its next mount');
      await page.waitForURL((url) => url.href !== here && /\/ladder$/.test(url.pathname));
      await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    };

    await mountNew('Loam White', 'North bench');
    await at(2000);
    expect(await accessFaults(page)).toEqual([]);
    await hands.fill('Temperature / °C', '71');
    await climbTo(2100, 'Hung');
    await page.getByText('71 °C').waitFor();
    await nextMount();
    await climbTo(2100, 'Failed');
    await mountNew('Wick 60', null);
    await climbTo(2250, 'Hung');
    // a wrong tap is put right: the step is taken, and ended anew
    await page.getByRole('button', { name: '2300 MHz', exact: true }).click();
    await hands.press('Did not start');
    await page.getByText('Did not start', { exact: true }).last().waitFor();
    await nextMount();
    await climbTo(2250, 'Hung');
    // a notebook has 22 steps, one of them corrected, a temperature, four mounts and two names; the study's title, its clocks and its rig
    // stand beside: 23 taps are steps, 11 lead from one mount to the next and through the plan
    expect(hands.count).toEqual({ clicks: 34, fields: 9 });

    await open(page, `${app.url}/studies/${study}/results`);
    await page.getByRole('heading', { level: 1, name: /Wick 60 passes 150\s.?MHz higher than Loam White/ }).waitFor();
    const table = page.getByRole('table', { name: 'Ladder by mount' });
    const rows = (await table.getByRole('row').allInnerTexts()).map((r) => r.replace(/\s+/g, ' ').trim());
    expect(rows[1]).toBe('Loam White, mount 1 2100 MHz pass 71 °C pass pass hung – – –');
    expect(rows[3]).toMatch(/^Wick 60, mount 1 2250 MHz (pass ){6}no start/);
    // nothing asks for a temperature of the part
    await open(page, `${app.url}/studies/${study}/plan`);
    expect(await page.getByTestId('plan-findings').innerText()).not.toMatch(/rise/i);
  });

  it('reads a results file, and tells mounts that passed all steps as bounds, by rank', async () => {
    const post = async (path: string, body: object, method = 'POST') =>
      (
        await fetch(`${app.url}/api/${path}`, { method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })
      ).json();
    const { id } = await post('studies', { title: 'Two voltages', question: '', margin_k: 1 });
    const { version } = await (await fetch(`${app.url}/api/studies/${id}/plan`)).json();
    const ladder = [0.9, 1].flatMap((voltage_v) => [2000, 2050, 2100].map((clock_mhz) => ({ clock_mhz, voltage_v })));
    await post(`studies/${id}/plan`, { base: version, changes: { loads: [{ name: 'Climb', steps: [], ladder }] } }, 'PATCH');
    const page = await app.newPage();
    const files = {
      'Loam White': ['0.9,2000,pass', '0.9,2050,fail', '1,2000,pass', '1,2050,pass', '1,2100,crash'],
      'Wick 60': ['0.9,2000,pass', '0.9,2050,pass', '0.9,2100,no boot', '1,2000,pass', '1,2050,pass', '1,2100,pass'],
    };
    let rig: number | null = null;
    for (const [specimen, rows] of Object.entries(files)) {
      let specimen_id: number | null = null;
      for (let mount = 0; mount < 3; mount++) {
        const made = await post(`studies/${id}/mounts`, {
          ...(specimen_id ? { specimen_id } : { specimen_name: specimen }),
          ...(rig ? { rig_id: rig } : { rig_name: 'South bench' }),
          made: true,
        });
        const view = await (await fetch(`${app.url}/api/mounts/${made.id}/ladder`)).json();
        specimen_id = view.mount.specimen_id;
        rig = view.mount.rig_id;
        await open(page, `${app.url}/mounts/${made.id}/ladder`);
        await page.getByLabel('Results file of the ladder').setInputFiles({
          name: 'ladder.csv',
          mimeType: 'text/csv',
          buffer: Buffer.from(['Voltage / V,Clock / MHz,Result', ...rows].join('\n')),
        });
        await page.getByText(`ladder.csv holds ${rows.length} steps`, { exact: false }).waitFor();
        await page.getByRole('button', { name: 'Store these steps' }).click();
        await page.getByRole('heading', { level: 1, name: /^Highest passing clock: / }).waitFor();
      }
    }
    await open(page, `${app.url}/studies/${id}/results`);
    // at the higher voltage all of one passed every step: no mean, but a rank
    await page.getByText('Wick 60, passed every tried step at least 2100 MHz').waitFor();
    await page
      .getByText('Highest passing clock, Loam White against Wick 60: log-rank p = 0.100, exact (3 against 3 mounts).')
      .first()
      .waitFor();
    await page.getByLabel('Compare at').selectOption({ label: '0.9 V' });
    await page.getByRole('heading', { level: 1, name: /Wick 60 passes 50\s.?MHz higher than Loam White/ }).waitFor();
    await page.getByLabel('Outcome').selectOption({ label: 'Lowest passing voltage' });
    await page.getByRole('figure', { name: 'Highest passing clock against voltage' }).waitFor();
  });
});
