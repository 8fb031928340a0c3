import { mkdtempSync, truncateSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Page } from 'playwright-core';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type ImprintScene, photograph, someScene } from '#simulator/photograph';
import { type App, open, startApp } from './app.ts';

let app: App;
beforeAll(async () => {
  app = await startApp();
});
afterAll(() => app.stop());

const post = async (path: string, body: object) =>
  (
    await fetch(`${app.url}/api/${path}`, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) })
  ).json();

/** Goes through the steps up to one, marking cautions as they come. */
async function stepsUpTo(page: Page, last: string): Promise<void> {
  for (let i = 0; i < 20; i++) {
    const heading = await page.locator('#step').innerText();
    if (heading === last) return;
    const mark = page.getByLabel('I confirm');
    if ((await mark.count()) > 0) await mark.check();
    await page.getByRole('button', { name: /^(Next step|Save again)/ }).click();
    await expect.poll(() => page.locator('#step').innerText()).not.toBe(heading);
  }
  throw new Error(`The step ${last} never came.`);
}

// a drawn photograph whose truth is known: two thirds covered, one void
const SCENE: ImprintScene = {
  ...{ ...someScene(4), cover: 0.66, centre: { x: 1.5, y: -1 }, voids: [{ x: 3, y: 2, rx: 1.6, ry: 1.6 }] },
  ...{ smear: null, glare: [], tilt: 12, lean: 40, turn: 3, mirrored: false, around: [0.03, 0.09, 0.05], noise: 2 },
};
const PHOTO = photograph(SCENE, 1200, 900);
const photoFile = async () => ({
  name: 'lid.jpg',
  mimeType: 'image/jpeg',
  buffer: await sharp(PHOTO.data, { raw: { width: PHOTO.width, height: PHOTO.height, channels: 4 } })
    .flatten()
    .jpeg()
    .toBuffer(),
});

/** A file over the limit, by its path: its bytes need not go through the line to the browser. */
function hugeFile(): string {
  const file = path.join(mkdtempSync(path.join(tmpdir(), 'warm-gauge-')), 'huge.jpg');
  writeFileSync(file, '');
  truncateSync(file, 31 * 1024 * 1024);
  return file;
}

/** Pulls a corner of the picture to where it is on the part. */
async function pull(page: Page, name: string, to: { x: number; y: number }): Promise<void> {
  const picture = await page.getByRole('img', { name: 'The photograph lid.jpg' }).boundingBox();
  const handle = await page.getByRole('button', { name: new RegExp(`^${name} corner`) }).boundingBox();
  if (!picture || !handle) throw new Error(`The ${name} corner is not there.`);
  await page.mouse.move(handle.x + handle.width / 2, handle.y + handle.height / 2);
  await page.mouse.down();
  await page.mouse.move(picture.x + (to.x / PHOTO.width) * picture.width, picture.y + (to.y / PHOTO.height) * picture.height, { steps: 4 });
  await page.mouse.up();
}

/** Photographs the face of a mount, measures its print and saves it. */
async function measurePrint(page: Page, address: string, tag: string): Promise<void> {
  await open(page, address);
  await page.getByRole('link', { name: 'Measure an imprint' }).click();
  await page.waitForURL(/\/tools\/print\?mount=\d+$/);
  await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
  const file = page.getByLabel('Photograph of the face');
  await file.setInputFiles({ name: 'notes.txt', mimeType: 'text/plain', buffer: Buffer.from('no picture') });
  await page.getByText('notes.txt is no photograph that can be opened; JPEG, PNG and WebP can.').waitFor();
  await file.setInputFiles(hugeFile());
  await page.getByText('huge.jpg has 31 MB; up to 30 MB are taken.').waitFor();
  await file.setInputFiles(await photoFile());
  const places = ['Upper left', 'Upper right', 'Lower right', 'Lower left'];
  // crossed first: nothing is lost by it
  await page.getByRole('button', { name: /^Upper left corner/ }).waitFor();
  await pull(page, 'Lower left', { x: 1120, y: 100 });
  await page.getByText(/^The corners cross/).waitFor();
  for (const [i, place] of places.entries()) await pull(page, place, PHOTO.corners[i]);
  const cover = page.getByTestId('cover');
  await expect.poll(async () => Math.abs(Number((await cover.innerText()).match(/^[\d.]+/)?.[0]) - 66) < 2.5).toBe(true);
  // a corner is moved by a pixel with a key
  const corner = page.getByRole('button', { name: /^Upper left corner/ });
  const before = await corner.getAttribute('aria-label');
  await corner.press('ArrowRight');
  expect(await corner.getAttribute('aria-label')).not.toBe(before);
  await corner.press('ArrowLeft');
  // the threshold by hand, and by itself again
  await page.getByLabel(/^Threshold/).fill('30');
  await page.getByText('30 % of the way from bare to covered, by hand').waitFor();
  await page.getByRole('button', { name: 'by itself' }).click();
  await page.getByText('50 % of the way from bare to covered, by itself').waitFor();
  await page.getByRole('button', { name: `Save it into Wick ${tag}, mount 1` }).click();
  await page.getByText('Saved.').waitFor();
  await page.getByRole('link', { name: 'Back to the mount' }).click();
  await page.getByText(/Part: 6\d\.\d % covered/).waitFor();
  await page.getByRole('img', { name: 'Print on the part, seen from above' }).waitFor();
  await page.getByLabel('Caption').fill('dry at one corner');
  await page.getByLabel('Photograph of this mount').setInputFiles(await photoFile());
  await page.getByRole('img', { name: 'dry at one corner' }).waitFor();
  await page.getByRole('button', { name: 'Delete photograph' }).last().click();
  await page.getByText('One photograph was taken out, kept for 30 days.').waitFor();
  await page.getByRole('button', { name: 'Restore the last one' }).click();
  await page.getByRole('img', { name: 'dry at one corner' }).waitFor();
}

describe.each([
  ['a phone', { width: 390, height: 844 }],
  ['a screen of 1280 × 800', { width: 1280, height: 800 }],
])('a mount led on %s', (where, viewport) => {
  it('through failure, remount and conditioning, and on after the page was killed', async () => {
    const tag = String(viewport.width);
    const rig = (await post('shelf/rigs', { name: `Bench ${tag}`, sheet: { contact: 'lid', contact_length_mm: 37, contact_width_mm: 37 } }))
      .id;
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
    await post(`studies/${study}/order`, {
      ...{ action: 'move', mount: { specimen: `Wick ${tag}`, mount: 1 } },
      rig: `Bench ${tag}`,
      day: 1,
      before: 0,
    });
    let page = await app.newPage({ viewport });
    await open(page, `${app.url}/studies/${study}/mounts`);
    await page.getByLabel('Your initials').fill('EB');
    await page.getByRole('button', { name: `Begin Wick ${tag} on Bench ${tag}` }).click();
    await page.waitForURL(/\/mounts\/\d+$/);
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    const address = page.url();
    // a grave caution holds the step until it is marked
    await expect.poll(() => page.getByRole('button', { name: /^(Next step|Save again)/ }).isDisabled()).toBe(true);
    await stepsUpTo(page, 'First start');
    await page.getByRole('button', { name: 'Mark as failed …' }).click();
    await page.getByLabel('Memory or a device is missing').check();
    await page.getByLabel('Too loose').check();
    await page.getByText('Tighten crosswise to the torque of the rig').waitFor();
    await page.getByLabel('Note, if there is more').fill('Second bank absent, loose at one corner');
    await page.getByRole('button', { name: 'Keep this try and begin another' }).click();
    await expect.poll(() => page.locator('#step').innerText()).toBe('Disconnect');
    expect(await page.locator('main').innerText()).toMatch(/1: Memory or a device is missing[\s\S]*Too loose: Second bank absent/);
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
    expect(await page.locator('#step').innerText()).toBe('Apply');
    await expect.poll(() => page.getByLabel('Lot').inputValue()).toBe('W60-2611');
    await stepsUpTo(page, 'Condition');
    await page.getByText('4 cycles of heating and cooling.').waitFor();
    expect(await page.getByRole('timer').innerText()).toBe('02:40:00');
    await page.getByRole('button', { name: 'Start the clock' }).click();
    await expect.poll(() => page.getByRole('timer').innerText()).toMatch(/^02:3[89]:\d\d$/);
    await page.getByLabel('Cycles made').fill('many');
    await page.getByRole('button', { name: /^(Next step|Save again)/ }).click();
    await page.getByText('Cycles made is a number.').waitFor();
    await expect.poll(() => page.getByLabel('Cycles made').inputValue()).toBe('many');
    await page.getByLabel('Cycles made').fill('4');
    await page.getByRole('button', { name: /^(Next step|Save again)/ }).click();
    await page.getByRole('button', { name: 'The mount is ready for its runs' }).click();
    await page.getByText('This mount is ready.').waitFor();
    await page.getByRole('button', { name: 'Report a fault …' }).click();
    await page.getByLabel('What kind').selectOption('freeze_when_moved');
    await page.getByLabel('What happened, and when').fill('Froze when the case was turned');
    await page.getByRole('button', { name: 'Report the fault' }).click();
    await page.getByText('Froze when the case was turned').waitFor();
    await page.getByLabel(/^Inspected under magnification/).click();
    await expect.poll(() => page.getByLabel(/^Inspected under magnification/).isChecked()).toBe(true);
    await measurePrint(page, address, tag);
    await open(page, `${app.url}/studies/${study}/mounts`);
    expect(await page.locator('main').innerText()).toContain('1 of 2 applications failed');
    await page.getByRole('img', { name: /^Mount 1, part: \d\d % covered$/ }).waitFor();
    await page.getByRole('link', { name: `Wick ${tag} mount 1: ready, no run yet, 1 failed` }).waitFor();
    await page.getByRole('button', { name: `Begin Loam ${tag} on Bench ${tag}` }).waitFor();
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(viewport.width);
  });
});

describe('work on the machine', () => {
  it('is listed once for a rig, ticked off in the mount and backwards again, with what the lift separated', async () => {
    const sheet = { contact: 'lid', contact_length_mm: 37, contact_width_mm: 37, neighbours: 'memory pads', torque_max_nm: 0.8 };
    const rig = (await post('shelf/rigs', { name: 'Bench of work', sheet })).id;
    const paste = (await post('shelf/materials', { name: 'Loam of work', sheet: { kind: 'paste' } })).id;
    const study = (await post('studies', { title: 'Work', question: '', margin_k: 1 })).id;
    const view = await post(`studies/${study}/specimens`, { material_id: paste });
    const mount = (await post(`studies/${study}/mounts`, { specimen_id: view.context.specimens[0].id, rig_id: rig })).id;
    const page = await app.newPage({ viewport: { width: 390, height: 844 } });
    await open(page, `${app.url}/rigs/${rig}/teardown`);
    await page.getByLabel('What is removed or opened').fill('Take off the shroud');
    await page.getByLabel('Screws').fill('4');
    await page.getByLabel('Minutes').fill('long');
    await page.getByRole('button', { name: 'Save list' }).click();
    await page.getByText('A step takes 0 to 600 minutes.').waitFor();
    await page.getByLabel('Minutes').fill('3');
    await page.getByLabel('Photograph of step 1').setInputFiles(await photoFile());
    await page.getByRole('img', { name: 'Step 1' }).waitFor();
    await page.getByRole('button', { name: 'A step' }).click();
    await page.getByLabel('What is removed or opened').last().fill('Unplug the fan');
    await page.getByRole('button', { name: 'Move step 2 up' }).click();
    await expect.poll(() => page.getByLabel('What is removed or opened').first().inputValue()).toBe('Unplug the fan');
    await page.getByRole('button', { name: 'Save list' }).click();
    await page.getByText('Saved.').waitFor();
    await open(page, `${app.url}/mounts/${mount}`);
    await page.getByText('Work on the machine itself').click();
    await page.getByLabel('Take the device apart').click();
    await page.getByRole('button', { name: 'Take apart', exact: true }).waitFor();
    await stepsUpTo(page, 'Take apart');
    const items = page.getByRole('main').locator('ol li label');
    expect(await items.allInnerTexts()).toEqual([
      expect.stringMatching(/^1\. Unplug the fan/),
      expect.stringMatching(/^2\. Take off the shroud\s+4 screws/),
    ]);
    await items.first().click();
    await page.getByText('1 of 2 done; the list counts 3 min.').waitFor();
    await stepsUpTo(page, 'Place');
    await page.getByText('Lifting the cooler also opens the neighbouring interfaces.').waitFor();
    await stepsUpTo(page, 'Tighten');
    await page.getByText('Interface not recorded').waitFor();
    await page.getByLabel('Torque / N·m').fill('0.9');
    await page.getByText('0.9 N·m is above the 0.8 N·m that the rig’s screws take').first().waitFor();
    await stepsUpTo(page, 'Put together');
    expect(await items.allInnerTexts()).toEqual([
      expect.stringMatching(/^2\. Back: Take off the shroud/),
      expect.stringMatching(/^1\. Back: Unplug the fan/),
    ]);
    await page.getByRole('button', { name: 'Place, done' }).click();
    await page.getByLabel('Renewed').click();
    await expect.poll(() => page.getByText('Interface not recorded').count()).toBe(0);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  });
});

describe('the tools beside a mount', () => {
  it('tell the dose to scale, and write it into the mount they were opened from', async () => {
    const rig = (
      await post('shelf/rigs', { name: 'Bench of tools', sheet: { contact: 'lid', contact_length_mm: 37, contact_width_mm: 37 } })
    ).id;
    const paste = (
      await post('shelf/materials', {
        name: 'Loam of tools',
        sheet: { kind: 'paste', density_g_per_cm3: 2.5, bond_line_um: 45, pack_size: 4, pack_unit: 'g' },
      })
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
    const write = page.getByRole('button', { name: 'Write it into Loam of tools, mount 1' });
    await expect.poll(() => write.isDisabled()).toBe(true);
    await page.getByText('Say why it is not the usual pattern.').waitFor();
    await page.getByLabel('Why this pattern').fill('the usual one trapped air');
    await write.click();
    await page.getByText('Written down.').waitFor();
    await page.getByRole('link', { name: 'Back to the mount' }).click();
    await page.waitForURL(/\/mounts\/\d+$/);
    const stored = await (await fetch(`${app.url}/api/mounts/${mount}`)).json();
    expect(stored.current.steps.apply.records).toEqual({ pattern: 'Dot, 354 mg (instead of several dots: the usual one trapped air)' });
    // heights and screws are written into it likewise
    await open(page, `${app.url}/tools/flatness?mount=${mount}`);
    await page.getByText('These heights are an example; enter your own.').waitFor();
    await page.getByLabel('Heights: x and y in mm, readings in µm').fill('0 0 0\n30 0 0\n0 30 0\n30 30 0\n15 15 10');
    await page.getByRole('button', { name: 'Write it into Loam of tools, mount 1' }).first().click();
    await page.getByText('Written down.').waitFor();
    await open(page, `${app.url}/tools/tightening?mount=${mount}`);
    await page.getByLabel('Screw positions / mm').fill('-40, -30; 40, -30; 0');
    await page.getByText('"0" is no place of a screw').waitFor();
    await page.getByLabel('Screw positions / mm').fill('-40, -30; 40, -30; 0, 30');
    await page.getByLabel('Spring / N/mm').fill('10');
    await page.getByText('A number from 0 to 100.').waitFor();
    await page.getByLabel('Pressed by / mm').fill('4');
    // three springs of 40 N on 1369 mm², their middle 10 mm below that of the part
    expect((await page.getByTestId('pressure').innerText()).replace(/\s+/g, ' ')).toBe('88 kPa');
    await page.getByRole('button', { name: 'Write it into Loam of tools, mount 1' }).click();
    await page.getByText('Written down.').waitFor();
    const after = (await (await fetch(`${app.url}/api/mounts/${mount}`)).json()).current.steps;
    expect(after.tighten.records).toMatchObject({ torque_nm: 0.6, screws: expect.stringMatching(/^cross, 3 screws in 3 rounds, 88 kPa/) });
    await open(page, `${app.url}/mounts/${mount}`);
    await page.getByText('Face: 10.0 µm peak to valley over 5 points').waitFor();
    expect((await page.goto(`${app.url}/tools/dose?mount=4711`))?.status()).toBe(404);
    expect((await page.goto(`${app.url}/tools/print?photograph=4711`))?.status()).toBe(404);
  });

  it('tell how flat a face is, what lapping took, and which neighbour holds the cooler off', async () => {
    const page = await app.newPage();
    await open(page, `${app.url}/tools/flatness`);
    const heights = page.getByLabel('Heights: x and y in mm, readings in µm');
    // a middle 12 µm over a level rim
    await heights.fill(
      ['0 0', '15 0', '30 0', '0 15', '15 15', '30 15', '0 30', '15 30', '30 30'].map((p) => `${p} ${p === '15 15' ? 12 : 0}`).join('\n'),
    );
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
