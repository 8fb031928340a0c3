import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { BrokerWithProbe } from '#simulator/ways/broker';
import { PageOfReadings } from '#simulator/ways/page';
import { accessFaults } from './access.ts';
import { type App, open, startApp } from './app.ts';

/** Instruments that nobody has written down: watched, ticked and named, until their sheets read them. */
let app: App;
let page: Page;
let broker: BrokerWithProbe;
let meter: PageOfReadings;
let ports: { broker: number; meter: number };

beforeAll(async () => {
  let step = 0;
  broker = new BrokerWithProbe('hut', () => ({ t: 21.5 + 0.01 * (step++ % 3), uptime: step }), 100);
  meter = new PageOfReadings(() => ({ power: 41.5, fan: 900 }));
  ports = { broker: await broker.listen(), meter: await meter.listen() };
  app = await startApp('empty');
  page = await app.newPage();
});
afterAll(async () => {
  await app.stop();
  await broker.stop();
  await meter.stop();
});

const button = (name: string | RegExp) => page.getByRole('button', { name });

async function shelve(name: string, address: string): Promise<void> {
  await open(page, `${app.url}/shelf/instruments/new`);
  await page.getByLabel('Name of the instrument').fill(name);
  await page.getByLabel('Address').fill(address);
  await button('Put the instrument on the shelf').click();
  await page.getByRole('link', { name: 'Watch it, name its channels, see its noise' }).click();
  await page.getByRole('heading', { name: 'What it sends' }).waitFor();
}

describe('an instrument that nobody has written down', () => {
  it('is watched, and what is ticked and named becomes its channels', async () => {
    await shelve('Hut probe', `mqtt://127.0.0.1:${ports.broker}`);
    const table = page.getByRole('region', { name: 'What the instrument sends' });
    await expect.poll(() => table.innerText()).toMatch(/hut\/all -> probe\.t\s+21\.5/);
    // what a broker kept from before cannot be taken
    await expect.poll(() => table.innerText()).toContain('hut/old (kept by the broker, of unknown age)');
    await expect.poll(() => page.getByLabel('Take hut/old').isDisabled()).toBe(true);
    expect(await accessFaults(page, 'practice')).toEqual([]);
    await page.getByLabel('Take hut/all -> probe.t').check();
    await page.getByLabel('Name of hut/all -> probe.t').fill('Room: by the door');
    await page.getByLabel('What hut/all -> probe.t is').selectOption('ambient');
    await page.getByLabel('Unit of hut/all -> probe.t').selectOption('degC');
    await button('Write 1 channel to the sheet').click();
    await expect.poll(() => page.getByText('1 channel written to the sheet.').count()).toBe(1);
    await button('Read now').click();
    const readings = page.getByRole('region', { name: 'Readings of the channels' });
    await expect.poll(() => readings.innerText()).toMatch(/Room by the door\s+21\.5\d? °C/);
    await button('Watch for a minute').click();
    await expect.poll(() => readings.innerText(), { timeout: 60_000 }).toMatch(/°C\s+\d{2,3}\s+0\.00\d+\s+0\.01/);
    await button('Stop').first().click();
    await page.getByRole('link', { name: 'Sheet of Hut probe' }).click();
    await expect.poll(() => page.getByLabel('Channels').inputValue()).toBe('Room by the door: ambient °C = hut/all -> probe.t');
  });

  it('by a page of JSON on a phone', async () => {
    await page.setViewportSize({ width: 390, height: 844 });
    await shelve('Plug', `http://127.0.0.1:${ports.meter}/meter`);
    await page.getByLabel('Take meter.0.power').check();
    await expect.poll(() => page.getByLabel('What meter.0.power is').inputValue()).toBe('power');
    await expect.poll(() => page.getByLabel('Unit of meter.0.power').inputValue()).toBe('W');
    await button('Write 1 channel to the sheet').click();
    await expect.poll(() => page.getByText('1 channel written to the sheet.').count()).toBe(1);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBe(390);
    expect(await accessFaults(page, 'practice')).toEqual([]);
  });

  it('says why it cannot be watched, in a sentence, and what to do', async () => {
    await page.setViewportSize({ width: 1280, height: 800 });
    await shelve('Nobody', 'mqtt://127.0.0.1:9');
    await expect.poll(() => page.getByRole('alert').first().innerText()).toContain('Nothing listens at 127.0.0.1:9.');
    await open(page, `${app.url}/shelf/instruments/new`);
    await page.getByLabel('Name of the instrument').fill('Meter');
    await page.getByLabel('Address').fill(`http://127.0.0.1:${ports.meter}/meter`);
    await page.getByLabel('Channels').fill('Power: power W = MEAS:POW?');
    await page.getByLabel('Switches the load on').fill('ON');
    await button('Put the instrument on the shelf').click();
    // a query of SCPI is a place in JSON that is not there; the switch is what the sheet refuses
    await expect.poll(() => page.getByRole('alert').last().innerText()).toContain('It cannot switch the load');
  });
});
