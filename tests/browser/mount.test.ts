import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type App, open, startApp } from './app.ts';

let app: App;
beforeAll(async () => {
  app = await startApp();
});
afterAll(() => app.stop());

const post = async (path: string, body: object) =>
  (await fetch(`${app.url}/api/${path}`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })).json();

/** Goes through the steps up to one, marking cautions as they come. */
async function stepsUpTo(page: Page, last: string): Promise<void> {
  for (let i = 0; i < 20; i++) {
    const heading = await page.getByRole('heading', { level: 1 }).innerText();
    if (heading === last) return;
    const mark = page.getByLabel('I have read it and it is so');
    if ((await mark.count()) > 0) await mark.check();
    await page.getByRole('button', { name: /^Done/ }).click();
    await expect.poll(() => page.getByRole('heading', { level: 1 }).innerText()).not.toBe(heading);
  }
  throw new Error(`The step ${last} never came.`);
}

describe.each([
  ['a phone', { width: 390, height: 844 }],
  ['a screen of 1280 × 800', { width: 1280, height: 800 }],
])('a mount led on %s', (where, viewport) => {
  it('through failure, remount and conditioning, and on after the page was killed', async () => {
    const tag = String(viewport.width);
    const rig = (await post('shelf/rigs', { name: `Bench ${tag}`, sheet: { contact: 'lid', contact_length_mm: 37, contact_width_mm: 37 } })).id;
    const material = (await post('shelf/materials', { name: `Wick ${tag}`, sheet: { kind: 'phase_change', conditioning_cycles: 4 } })).id;
    const paste = (await post('shelf/materials', { name: `Loam ${tag}`, sheet: { kind: 'paste', density_g_per_cm3: 2.5 } })).id;
    const study = (await post('studies', { title: `Mounts on ${where}`, question: '', margin_k: 1 })).id;
    await post(`studies/${study}/specimens`, { material_id: material });
    await post(`studies/${study}/specimens`, { material_id: paste });
    await fetch(`${app.url}/api/studies/${study}/plan`, {
      method: 'PATCH',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ base: 99, changes: { rigs: [rig], mounts: 2 } }),
    });
    await post(`studies/${study}/order`, { action: 'draw', seed: 1 });
    let page = await app.newPage({ viewport });
    await open(page, `${app.url}/studies/${study}/mounts`);
    await page.getByLabel('Your initials').fill('EB');
    await page.getByRole('button', { name: `Begin Wick ${tag} on Bench ${tag}` }).click();
    await page.waitForURL(/\/mounts\/\d+$/);
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    const address = page.url();
    // a grave caution holds the step until it is marked
    expect(await page.getByRole('button', { name: /^Done/ }).isDisabled()).toBe(true);
    await stepsUpTo(page, 'First start');
    await page.getByRole('button', { name: 'It did not work …' }).click();
    await page.getByLabel('Memory or a device is missing').check();
    await page.getByLabel('Why, as far as it is known').fill('Second bank absent, loose at one corner');
    await page.getByRole('button', { name: 'Keep this try, begin the next' }).click();
    await expect.poll(() => page.getByRole('heading', { level: 1 }).innerText()).toBe('Disconnect');
    expect(await page.locator('main').innerText()).toMatch(/1: Memory or a device is missing[\s\S]*Second bank absent/);
    await stepsUpTo(page, 'Apply');
    await page.getByLabel('Lot').fill('W60-2611');
    await page.getByLabel('Note').focus();
    // the page is killed in the middle; the next one goes on where it was
    await expect
      .poll(async () => (await (await fetch(`${app.url}/api${new URL(address).pathname}`)).json()).current?.steps.apply?.records?.lot)
      .toBe('W60-2611');
    await page.context().close();
    page = await app.newPage({ viewport });
    await open(page, address);
    expect(await page.getByRole('heading', { level: 1 }).innerText()).toBe('Apply');
    expect(await page.getByLabel('Lot').inputValue()).toBe('W60-2611');
    await stepsUpTo(page, 'Condition');
    await page.getByText('4 cycles of heating and cooling.').waitFor();
    expect(await page.getByRole('timer').innerText()).toBe('02:40:00');
    await page.getByRole('button', { name: 'Start the clock' }).click();
    await expect.poll(() => page.getByRole('timer').innerText(), { timeout: 5000 }).toMatch(/^02:39:5\d$/);
    await page.getByLabel('Cycles made').fill('many');
    await page.getByRole('button', { name: /^Done/ }).click();
    await page.getByText('Cycles made is a number.').waitFor();
    expect(await page.getByLabel('Cycles made').inputValue()).toBe('many');
    await page.getByLabel('Cycles made').fill('4');
    await page.getByRole('button', { name: /^Done/ }).click();
    await page.getByRole('button', { name: 'The mount is ready for its runs' }).click();
    await page.getByText('This mount is ready.').waitFor();
    await page.getByRole('button', { name: 'Report a fault …' }).click();
    await page.getByLabel('What kind').selectOption('freeze_when_moved');
    await page.getByLabel('What showed, and when').fill('Froze when the case was turned');
    await page.getByRole('button', { name: 'Report the fault' }).click();
    await page.getByText('Froze when the case was turned').waitFor();
    await page.getByLabel(/^Inspected under magnification/).click();
    await expect.poll(() => page.getByLabel(/^Inspected under magnification/).isChecked()).toBe(true);
    await open(page, `${app.url}/studies/${study}/mounts`);
    expect(await page.locator('main').innerText()).toContain('1 of 2 tries failed');
    await page.getByRole('link', { name: `Wick ${tag} mount 1: ready, no run yet, 1 failed` }).waitFor();
    await page.getByRole('button', { name: `Begin Loam ${tag} on Bench ${tag}` }).waitFor();
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(viewport.width);
  });
});

describe('the tools beside a mount', () => {
  it('tell the dose to scale, and write it into the mount they were opened from', async () => {
    const rig = (await post('shelf/rigs', { name: 'Bench of tools', sheet: { contact: 'lid', contact_length_mm: 37, contact_width_mm: 37 } })).id;
    const paste = (
      await post('shelf/materials', { name: 'Loam of tools', sheet: { kind: 'paste', density_g_per_cm3: 2.5, bond_line_um: 45, pack_size: 4, pack_unit: 'g' } })
    ).id;
    const study = (await post('studies', { title: 'Tools', question: '', margin_k: 1 })).id;
    const view = await post(`studies/${study}/specimens`, { material_id: paste });
    const mount = (await post(`studies/${study}/mounts`, { specimen_id: view.context.specimens[0].id, rig_id: rig })).id;
    const page = await app.newPage();
    await open(page, `${app.url}/tools/dose?mount=${mount}`);
    // 37 mm × 37 mm × 45 µm × 1.15 × 2.5 g/cm³
    expect((await page.getByTestId('dose').innerText()).replace(/\s+/g, ' ')).toMatch(/^177 mg 0\.071 ml · a full tube serves 22$/);
    expect(
      await page
        .getByRole('img', { name: /^The part, 37 × 37 mm/ })
        .locator('circle')
        .count(),
    ).toBe(8);
    await page.getByLabel('Pattern', { exact: true }).selectOption('dot');
    expect(
      await page
        .getByRole('img', { name: /spreads to/ })
        .locator('circle')
        .count(),
    ).toBe(2);
    await page.getByLabel('Bond line / µm').fill('thick');
    await page.getByText('A number from 1 to 5000.').waitFor();
    await page.getByLabel('Bond line / µm').fill('90');
    expect(await page.getByTestId('dose').innerText()).toMatch(/^354/);
    await page.getByRole('button', { name: 'Write it into Loam of tools, mount 1' }).click();
    await page.getByText('Written down.').waitFor();
    await page.getByRole('link', { name: 'Back to the mount' }).click();
    await page.waitForURL(/\/mounts\/\d+$/);
    const stored = await (await fetch(`${app.url}/api/mounts/${mount}`)).json();
    expect(stored.current.steps.apply.records).toEqual({ pattern: 'Dot, 354 mg (instead of several dots)' });
    expect((await page.goto(`${app.url}/tools/dose?mount=4711`))?.status()).toBe(404);
  });

  it('tell how flat a face is, what lapping took, and which neighbour holds the cooler off', async () => {
    const page = await app.newPage();
    await open(page, `${app.url}/tools/flatness`);
    const heights = page.getByLabel('Heights: x and y in mm, readings in µm');
    // a middle 12 µm over a level rim
    await heights.fill(['0 0', '15 0', '30 0', '0 15', '15 15', '30 15', '0 30', '15 30', '30 30'].map((p) => `${p} ${p === '15 15' ? 12 : 0}`).join('\n'));
    expect((await page.getByTestId('flatness').innerText()).replace(/\s+/g, ' ')).toMatch(/^12\.0 µm/);
    expect(
      await page
        .getByRole('img', { name: /^Contours from [-−]1\.3 to 10\.7 µm/ })
        .locator('path')
        .count(),
    ).toBe(9);
    await page.getByLabel('After lapping, the same points').fill('15 15 -20\n0 0 -20');
    await page.getByLabel('Thickness before / mm').fill('2');
    await page.getByText('20.0 to 32.0 µm, 1.3 % of the thickness').waitFor();
    await heights.fill('0 0 1\n1 zero 2');
    await page.getByText('Line 2: "1 zero 2" holds something that is no number.').waitFor();
    await page.getByText('Four points or more').waitFor();
    expect((await page.getByTestId('neighbour').innerText()).trim()).toBe('pressed 25 %, 80 N, 40 %');
    await page.getByLabel('Pad / mm').fill('1.5');
    await page.getByLabel('Force on the cooler / N').fill('100');
    await page.getByText(/memory carries the cooler: \d\.\d\d mm are left over the die/).waitFor();
  });

  it('lead around the screws by key, in rounds up to the torque', async () => {
    const page = await app.newPage();
    await open(page, `${app.url}/tools/tightening`);
    const told = page.locator('p[role=status].text-verdict');
    const seen: string[] = [];
    await page.getByRole('button', { name: 'Tight: the next' }).focus();
    for (let i = 0; i < 12; i++) {
      seen.push(await told.innerText());
      await page.keyboard.press('Enter');
    }
    expect(seen.slice(0, 5)).toEqual([
      'Screw 1 to 0.20 N·m, round 1 of 3.',
      'Screw 2 to 0.20 N·m, round 1 of 3.',
      'Screw 3 to 0.20 N·m, round 1 of 3.',
      'Screw 4 to 0.20 N·m, round 1 of 3.',
      'Screw 1 to 0.40 N·m, round 2 of 3.',
    ]);
    await page.getByText('All screws are tight.').waitFor();
    // 0.6 N·m on M3 at 0.14 is 1000 N a screw, four of them on 1369 mm²
    expect(await page.getByTestId('pressure').innerText()).toMatch(/^29\d\d/);
    await page.getByLabel('Unit').selectOption('kgf·cm');
    await page.getByLabel('Torque / kgf·cm').fill('6.118');
    await expect.poll(() => page.getByTestId('pressure').innerText()).toMatch(/^29\d\d/);
    await page.getByLabel('Screws', { exact: true }).fill('13');
    await page.getByText('A number from 2 to 12.').waitFor();
  });
});
