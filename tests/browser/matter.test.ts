import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { accessFaults } from './access.ts';
import { type App, dropFiles, open, startApp } from './app.ts';
import { handsOn } from './hands.ts';

let app: App;
beforeAll(async () => {
  app = await startApp('empty');
});
afterAll(async () => app.stop());

const alive = (page: Page) => page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);

/** A log of a card with two chips and a memory: idle, then load until nothing moves any more. */
function cardLog(rises: { chip: number; bridge: number; memory: number }, power = 100): Uint8Array {
  const lines = ['Time / s,Room / °C,Chip die / °C,Bridge / °C,Memory 1 / °C,Board 7 / °C,Power / W'];
  for (let s = 0; s <= 1500; s += 5) {
    const warm = s < 120 ? 0 : 1 - Math.exp(-(s - 120) / 60);
    const wave = 0.02 * Math.sin(s);
    const at = (rise: number, idle: number) => (22 + idle + wave + (rise - idle) * warm).toFixed(2);
    lines.push(
      [
        s,
        '22.00',
        at(rises.chip, 6),
        at(rises.bridge, 5),
        at(rises.memory, 4),
        at(rises.memory - 5, 3),
        s < 120 ? '10.0' : power.toFixed(1),
      ].join(','),
    );
  }
  return new TextEncoder().encode(`${lines.join('\n')}\n`);
}

describe('two chips under one cooler', () => {
  it('have each its size, sensors, limit and material, and are compared one by one', async () => {
    const page = await app.newPage();
    const hands = handsOn(page);
    await open(page, `${app.url}/shelf/materials`);
    await page.locator('input[type=file][accept*=csv]').setInputFiles({
      name: 'materials.csv',
      mimeType: 'text/csv',
      buffer: Buffer.from(
        'name,kind,thickness_mm,sheet_length_mm,sheet_width_mm,pack_size,pack_unit,packs,cut_length_mm,cut_width_mm\nAmber Pad,pad,0.5,60,40,1,sheets,1,14,12\n',
      ),
    });
    await page.getByRole('link', { name: 'Amber Pad' }).waitFor();
    await open(page, `${app.url}/shelf/rigs/new`);
    await page.getByLabel('Name of the rig').fill('Hut card');
    await page.getByRole('button', { name: 'Put the rig on the shelf' }).click();
    await page.waitForURL(/\/shelf\/rigs\/\d+$/);
    await page.getByRole('link', { name: 'Each with its size, sensors, limit and material' }).click();
    await page.waitForURL(/\/parts$/);
    await alive(page);
    const parts = [
      {
        Part: 'Chip',
        'Length / mm': '20',
        'Width / mm': '16',
        'Limit / °C': '95',
        'Of the power / %': '70',
        'Sensors, by comma': 'Chip die',
      },
      {
        Part: 'Bridge',
        'Length / mm': '12',
        'Width / mm': '12',
        'Limit / °C': '80',
        'Of the power / %': '20',
        'Sensors, by comma': 'Bridge',
      },
      { Part: 'Memory', 'Length / mm': '14', 'Width / mm': '12', 'How many': '4', 'Limit / °C': '70', 'Sensors, by comma': 'Memory 1' },
    ];
    for (const [i, part] of parts.entries()) {
      await hands.press('A part');
      for (const [label, text] of Object.entries(part)) {
        hands.count.fields++;
        await page.getByLabel(label, { exact: true }).nth(i).fill(text);
      }
    }
    hands.count.fields++;
    await page.getByLabel('On it lies').nth(2).selectOption({ label: 'Amber Pad' });
    expect(await accessFaults(page)).toEqual([]);
    await hands.press('Save parts');
    await page.getByText('Saved.').waitFor();
    // three parts with six or seven figures each, as a notebook has them
    expect(hands.count).toEqual({ clicks: 4, fields: 19 });

    /** Drops a log and says where it belongs. */
    const store = async (name: string, rises: Parameters<typeof cardLog>[0], where: () => Promise<void>) => {
      await open(page, app.url);
      await dropFiles(page, [{ name, bytes: cardLog(rises) }]);
      await page.getByRole('form', { name: 'Where the run belongs' }).waitFor();
      await where();
      await page.getByRole('button', { name: 'Store this run' }).click();
      await page.waitForURL(/\/runs\/\d+/);
    };
    const pick = (label: string, choice: string) =>
      page.getByRole('combobox', { name: label, exact: true }).selectOption({ label: choice });
    await store('loam1.csv', { chip: 50, bridge: 40, memory: 45 }, async () => {
      await pick('Rig', 'Hut card');
      await page.getByLabel('Title of the new study').fill('Two chips');
      await page.getByLabel('Name of the specimen').fill('Loam White');
      // what the rig names is read as a part, and stays out of the mean
      await expect.poll(() => page.getByLabel('Role of Bridge').inputValue()).toBe('part');
    });
    const run = Number(page.url().split('/').at(-1));
    await page.getByText('50.0').first().waitFor();
    await store('loam2.csv', { chip: 50.4, bridge: 40.3, memory: 45.2 }, async () => {
      await pick('Study', 'Two chips');
      await pick('Specimen', 'Loam White');
      await pick('Rig', 'Hut card');
    });
    for (const [i, plus] of [0, 0.3].entries())
      await store(`wick${i}.csv`, { chip: 46 + plus, bridge: 42 + plus, memory: 43.6 + plus }, async () => {
        await pick('Study', 'Two chips');
        await pick('Specimen', i === 0 ? 'a new specimen' : 'Wick 60');
        if (i === 0) await page.getByLabel('Name of the specimen').fill('Wick 60');
        await pick('Rig', 'Hut card');
      });
    const study = (await (await fetch(`${app.url}/api/places`)).json()).studies[0].id;
    await open(page, `${app.url}/studies/${study}/results`);
    const title = () => page.getByRole('heading', { level: 1 }).innerText();
    await expect.poll(title).toMatch(/Wick 60 runs 4\.\d\sK cooler than Loam White/);
    // the other chip says otherwise
    await page.getByLabel('Outcome').selectOption({ label: 'ΔT of one part' });
    await page.getByLabel('Part', { exact: true }).selectOption('Bridge');
    await expect.poll(title).toMatch(/Loam White keeps Bridge 2\.0\sK cooler than Wick 60/);
    // 20 % of 100 W: 40.15 K over 20 W
    await page.getByLabel('Outcome').selectOption({ label: 'Resistance of one part' });
    await page.getByLabel('Part', { exact: true }).selectOption('Bridge');
    await expect.poll(title).toMatch(/Loam White has 0\.100\sK\/W less resistance at Bridge than Wick 60/);
    // limits of the rig decide without a word in the plan: 70 °C less the hottest room it is told for
    await page.getByText(/Wick 60: Memory decides, \d\.\d\sK above its limit/).waitFor();
    // the pads of the memory were cut: four mounts with four pieces each, of twelve on the sheet
    const sheets = await (await fetch(`${app.url}/api/shelf/materials`)).json();
    expect(sheets.find((m: { name: string }) => m.name === 'Amber Pad').stock).toMatchObject({ left: 0 });
    expect(run).toBeGreaterThan(0);
    // a part that is named afterwards is read from the logs that are there
    await open(page, `${app.url}/rigs/1/parts`);
    await page.getByRole('button', { name: 'A part' }).click();
    await page.getByLabel('Part', { exact: true }).nth(3).fill('Regulator');
    await page.getByLabel('Sensors, by comma').nth(3).fill('Board 7');
    await page.getByRole('button', { name: 'Save parts' }).click();
    await page.getByText('Saved.').waitFor();
    await open(page, `${app.url}/studies/${study}/results`);
    await page.getByText('No run has the sensor "Board 7" that the plan or the rig names').waitFor();
    await page.getByRole('button', { name: 'Read the logs again for these parts (4 runs)' }).click();
    await page.getByText('No run has the sensor').waitFor({ state: 'detached' });
    await alive(page);
    await page.getByLabel('Outcome').selectOption({ label: 'ΔT of one part' });
    await page.getByLabel('Part', { exact: true }).selectOption('Regulator');
    await expect.poll(title).toMatch(/Wick 60 keeps Regulator 1\.\d\sK cooler than Loam White/);
  });
});

describe('an epoxy', () => {
  it('on coupons: weighed by ratio with its partner, rubbed in, cured before its first start; without: once, last', async () => {
    const page = await app.newPage({ viewport: { width: 390, height: 844 } });
    await open(page, `${app.url}/shelf/materials`);
    await page.locator('input[type=file][accept*=csv]').setInputFiles({
      name: 'materials.csv',
      mimeType: 'text/csv',
      buffer: Buffer.from(
        'name,kind,density_g_per_cm3,bond_line_um,permanent,pot_life_min,mixing_ratio,conditioning_h\nSet Stone,epoxy,2,100,yes,40,10 : 1 by mass,24\nLoam White,paste,2.5,45,no,,,\n',
      ),
    });
    await page.getByRole('link', { name: 'Set Stone' }).waitFor();
    await open(page, `${app.url}/shelf/rigs/new`);
    await page.getByLabel('Name of the rig').fill('South bench');
    await page.getByLabel('Contact length / mm').fill('30');
    await page.getByLabel('Contact width / mm').fill('20');
    await page.getByRole('button', { name: 'Put the rig on the shelf' }).click();
    await page.waitForURL(/\/shelf\/rigs\/\d+$/);
    const rig = page.url();
    await open(page, `${app.url}/studies`);
    await page.getByLabel('Title').fill('Glued or pasted');
    await page.getByRole('button', { name: 'Start the study' }).click();
    await page.waitForURL(/\/plan$/);
    await alive(page);
    const plan = page.url();
    for (const name of ['Loam White', 'Set Stone']) {
      await page.getByLabel('From the shelf').selectOption({ label: name });
      await page.getByRole('button', { name: /^Add (another )?material$/ }).click();
      // it is taken from the list once it is in the study
      await page.waitForFunction(
        (taken) => ![...document.querySelectorAll('option')].some((o) => o.value.startsWith('materials:') && o.textContent === taken),
        name,
      );
    }
    await page.getByLabel('South bench').first().check();
    // without coupons the bond can be made once, and the nearest plan is said
    await expect
      .poll(() => page.getByTestId('plan-findings').innerText())
      .toMatch(/Set Stone is permanent and no rig has coupons: .*For 5, give the rig 5 lid-and-base coupons/s);
    await page.getByText('Everything is stored.').waitFor();
    await open(page, rig);
    await page.getByLabel('Lid coupons').fill('5');
    await page.getByLabel('Base coupons').fill('5');
    await page.getByRole('button', { name: 'Save' }).click();
    await page.getByText('Saved.').waitFor();
    await open(page, plan);
    await expect.poll(() => page.getByTestId('plan-findings').innerText()).not.toMatch(/no rig has coupons/);

    await open(page, plan.replace(/plan$/, 'mounts'));
    await page.getByRole('combobox', { name: 'Specimen' }).selectOption({ label: 'Set Stone' });
    await page.getByRole('button', { name: 'Begin this mount' }).click();
    await page.waitForURL(/\/mounts\/\d+$/);
    await alive(page);
    const at = (name: string) => page.getByRole('heading', { level: 2, name, exact: true }).waitFor();
    const done = async () => {
      const mark = page.getByLabel('I confirm');
      if ((await mark.count()) > 0 && !(await mark.isChecked())) await mark.check();
      await page.getByRole('button', { name: 'Next step' }).click();
    };
    for (const step of ['Disconnect', 'Clean', 'Inspect']) {
      await at(step);
      await done();
    }
    await at('Prepare');
    // 600 mm² × 0.1 mm × 1.15 at 2 g/cm³: 138 mg
    await page.getByText('For 138 mg: 125 mg of A and 13 mg of B.').waitFor();
    await page.getByLabel('Part A / mg').fill('100');
    await page.getByText('10 mg go with 100 mg of A').waitFor();
    await page.getByLabel('Part B / mg').fill('12');
    await page.getByRole('button', { name: 'Mixed: the pot life begins' }).click();
    await done();
    await at('Apply');
    await page.getByText(/^Rub a trace of it into the lid/).waitFor();
    expect(await accessFaults(page)).toEqual([]);
    await done();
    for (const step of ['Place', 'Tighten', 'Cure']) {
      await at(step);
      await done();
    }
    await at('First start');
    await done();
    await page.getByRole('button', { name: 'The mount is ready for its runs' }).click();
    await page.getByText('100 mg of A take 10 mg of B; 12 mg were weighed. A mix off its ratio may not cure.').waitFor();
    await page.getByText(/Started 0\.0 h after it was placed; it cures in 24 h\./).waitFor();
  });
});
