import { randomUUID } from 'node:crypto';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { seededRandom } from '#core/stats/random';
import { accessFaults } from './access.ts';
import { type App, open, startApp } from './app.ts';

/** Three studies of a lab of its own, on three rigs of which two are alike; then the demo. */
let app: App;
let demo: App;
beforeAll(async () => {
  [app, demo] = [await startApp('empty'), await startApp('demo')];
});
afterAll(async () => {
  await app.stop();
  await demo.stop();
});

const post = async (url: string, body: unknown): Promise<Record<string, unknown>> => {
  const answer = await fetch(url, {
    method: 'POST',
    headers: { 'content-type': 'application/json', origin: new URL(url).origin },
    body: JSON.stringify(body),
  });
  const said = (await answer.json()) as Record<string, unknown>;
  expect(said.error, JSON.stringify(said)).toBeUndefined();
  return said;
};

/** A study by its readings: resistances from die to room in K/W at 80 W, three mounts of each. */
async function study(title: string, rig: string, wholes: Record<string, number>, seed: number): Promise<void> {
  const random = seededRandom(seed);
  await post(`${app.url}/api/typed-runs/table`, {
    study_title: title,
    kind: 'paste',
    rig,
    rows: Object.entries(wholes).flatMap(([specimen, whole]) =>
      [1, 2, 3].map((mount) => ({
        ...{ import_id: randomUUID(), specimen, mount, read_at: `2026-0${seed}-1${mount}T09:00:00Z` },
        texts: { mean_c: (22 + 80 * (whole + 0.002 * random.normal())).toFixed(2), room_c: '22.00', power_w: '80.0' },
      })),
    ),
  });
}

const sentence = (page: Page) => page.locator('[aria-labelledby="part-heading"]').getByRole('status');

describe('three studies', () => {
  it('become a ranking, and the sentence for a reader’s part', async () => {
    const page = await app.newPage();
    await open(page, `${app.url}/ranking`);
    await page.getByRole('heading', { name: 'Nothing to rank yet' }).waitFor();
    expect(await accessFaults(page)).toEqual([]);

    for (const name of ['Sled ¾ “old”', 'Sled ¾ “new”', 'Mast & <co>'])
      await post(`${app.url}/api/shelf/rigs`, { name, sheet: { contact: 'lid', contact_length_mm: 20, contact_width_mm: 15 } });
    await study('Three greases', 'Sled ¾ “old”', { 'Ölig 1': 0.4, 'Rye; thin': 0.36, Tallow: 0.45 }, 1);
    await study('Two greases', 'Sled ¾ “new”', { 'Ölig 1': 0.6, 'Rye; thin': 0.565 }, 2);
    await study('At the mast', 'Mast & <co>', { 'Ölig 1': 0.3, Tallow: 0.345 }, 3);

    await page.reload();
    await page.getByRole('heading', { level: 1, name: /^Rye; thin leads: \d+\.\d mm²·K\/W below Ölig 1/ }).waitFor();
    await expect.poll(() => page.getByText('3 set-ups, 3 materials, 21 mounts.').isVisible()).toBe(true);
    expect(await accessFaults(page)).toEqual([]);
    // 95 W over 300 mm²: 0.04 K/W of difference over the same area are 3.8 K
    await page.getByLabel('Power / W').fill('95');
    await page.getByLabel('Contact area / mm²').fill('300');
    await sentence(page).waitFor();
    const said = (await sentence(page).textContent()) ?? '';
    expect(said.replaceAll('\u00a0', ' ')).toMatch(
      /^On 95 W over 300 mm² Rye; thin would run (3|4)\.\d K cooler than Ölig 1, (\d+\.\d+ to \d+\.\d+ K|between \d+\.\d+ K warmer and \d+\.\d+ K cooler) in a set-up like these\.$/,
    );
    // a pair without the reference is asked for
    await page.getByLabel('compared with').selectOption({ label: 'Tallow' });
    await expect
      .poll(async () => ((await sentence(page).textContent()) ?? '').replaceAll('\u00a0', ' '))
      .toMatch(/Rye; thin would run (7|8|9)\.\d K cooler than Tallow/);
    // three times the area is the last that is answered; beyond it is refused in words
    await page.getByLabel('Contact area / mm²').fill('900');
    await sentence(page).waitFor();
    await page.getByLabel('Contact area / mm²').fill('901');
    await page.getByText('901 mm² lies outside what the set-ups measured allow: 100 to 900 mm²').waitFor();
    await page.getByLabel('Contact area / mm²').fill('300');
    await page.getByLabel('Contact', { exact: true }).selectOption('die');
    await expect.poll(() => page.getByText('Measured on lid only: a bare die and a lid differ').isVisible()).toBe(true);
    // its own page
    await page.getByRole('link', { name: /^Tallow: / }).click();
    await page.getByRole('heading', { level: 1, name: /^Tallow: \+\d/ }).waitFor();
    await expect.poll(() => page.getByText('2 set-ups, 6 mounts; compared directly, 2 set-ups with both').isVisible()).toBe(true);
    expect(await accessFaults(page)).toEqual([]);
  });

  it('merge set-ups with a reason, split them, and take it back', async () => {
    const page = await app.newPage();
    await open(page, `${app.url}/ranking`);
    const basis = (words: string) => page.getByText(words).waitFor();
    await page.getByLabel('Sled ¾ “old”').check();
    await page.getByLabel('Sled ¾ “new”').check();
    const merge = page.getByRole('button', { name: 'Merge set-ups' });
    await expect.poll(() => merge.isDisabled()).toBe(true);
    await page.getByLabel('Reason').fill('The same sled, renamed after its paint');
    await merge.click();
    await basis('2 set-ups, 3 materials, 21 mounts.');
    expect(
      await page
        .getByText('Merged: Three greases on Sled ¾ “old” and Two greases on Sled ¾ “new”. The same sled, renamed after its paint')
        .isVisible(),
    ).toBe(true);
    await page.getByRole('button', { name: 'Split this set-up' }).click();
    await page
      .getByRole('group', { name: /^Split / })
      .getByLabel(/^Two greases/)
      .check();
    await page.getByLabel('Reason').fill('Another thermometer');
    await page.getByRole('button', { name: 'Split set-up', exact: true }).click();
    // what was joined by hand stays joined by hand: the newer word parts nothing that the older one joins
    await page.getByText('Split: Two greases on Sled ¾ “new”. Another thermometer').waitFor();
    await basis('3 set-ups, 3 materials, 21 mounts.');
    for (const left of [1, 0]) {
      await page.getByRole('button', { name: 'Undo' }).first().click();
      await expect.poll(() => page.getByRole('button', { name: 'Undo' }).count()).toBe(left);
    }
    await basis('3 set-ups, 3 materials, 21 mounts.');
  });

  it('are told again at a second look, and without a mount that was left out meanwhile', async () => {
    const place = async () => (await fetch(`${app.url}/ranking`)).text();
    const before = await place();
    expect(before).toContain('21 mounts');
    const { studies, mounts } = (await (await fetch(`${app.url}/api/places`)).json()) as {
      studies: { id: number }[];
      mounts: { id: number }[];
    };
    expect(studies).toHaveLength(3);
    const answer = await fetch(`${app.url}/api/mounts/${mounts[0].id}/excluded`, {
      method: 'PUT',
      headers: { 'content-type': 'application/json', origin: app.url },
      body: JSON.stringify({ reason: 'the screw was stripped', seen: null }),
    });
    expect(answer.ok, await answer.text()).toBe(true);
    expect(await place()).toContain('20 mounts');
  });

  it('say on the bench that the reference left its band, until it reads as it did', async () => {
    const page = await app.newPage();
    const note = page.getByRole('note').filter({ hasText: 'does not read as it did' });
    const wholes = [0.4, 0.401, 0.399, 0.4, 0.402, 0.398, 0.401, 0.399, 0.4, 0.44, 0.4];
    const typed = (mount: number) => ({
      ...{ import_id: randomUUID(), specimen: 'Ölig 1', mount, read_at: new Date(Date.now() - (12 - mount) * 86_400_000).toISOString() },
      texts: { mean_c: (22 + 80 * wholes[mount - 1]).toFixed(2), room_c: '22.00', power_w: '80.0' },
    });
    const type = (mounts: number[], place: object) =>
      post(`${app.url}/api/typed-runs/table`, { kind: 'paste', rig: 'Sled ¾ “old”', ...place, rows: mounts.map(typed) });
    const { study_id } = await type([1, 2, 3, 4, 5, 6, 7, 8, 9], { study_title: 'The sled again' });
    const asked = page.waitForResponse('**/api/ranking/findings');
    await open(page, `${app.url}/`);
    expect(await (await asked).json()).toEqual([]);
    await expect.poll(() => note.count()).toBe(0);
    await type([10], { study_id });
    await page.reload();
    await note.waitFor();
    expect(await note.innerText()).toMatch(
      /^Ölig 1 on Sled ¾ “old” does not read as it did\. The newest mount, 132\.0, left its band of 11\d\.\d to 12\d\.\d mm²·K\/W/,
    );
    expect(await accessFaults(page)).toEqual([]);
    await note.getByRole('link').click();
    await page.getByRole('heading', { level: 1, name: 'Sled ¾ “old”: the reference does not read as it did.' }).waitFor();
    await type([11], { study_id });
    const again = page.waitForResponse('**/api/ranking/findings');
    await page.goto(`${app.url}/`);
    expect(await (await again).json()).toEqual([]);
  });
});

describe('the demo', () => {
  it('says what is odd, draws the network for keys and as a table, and filters', async () => {
    const page = await demo.newPage();
    await open(page, `${demo.url}/ranking`);
    await page.getByRole('heading', { level: 1, name: /^Tarn leads/ }).waitFor();
    const odd = page.getByRole('note', { name: 'Finding of North bench, Weir 240' });
    expect(await odd.textContent()).toContain('Slip Felt 0.5 against Loam White');
    const mark = page.getByRole('button', { name: 'Hearthbond', exact: true });
    await mark.focus();
    await page.keyboard.press('Enter');
    await page.getByText(/^Hearthbond was measured side by side with/).waitFor();
    await page.getByRole('figure', { name: 'Network of evidence' }).getByRole('button', { name: 'Table' }).click();
    await expect.poll(() => page.getByRole('region', { name: 'Table: Network of evidence' }).getByRole('row').count()).toBeGreaterThan(10);
    await page.getByText('Reference, filters and evidence').click();
    await page.getByLabel('No conductor').check();
    await expect.poll(() => page.getByRole('link', { name: /^Tarn: / }).count()).toBe(0);
    await page.getByLabel('Removable only').check();
    await expect.poll(() => page.getByRole('link', { name: /^Hearthbond: / }).count()).toBe(0);
    await expect.poll(() => page.getByRole('link', { name: /^Wick 60: / }).count()).toBe(1);
    // both lots of one material together
    await page.getByLabel('Lots together').check();
    await page.getByRole('link', { name: /^Bramble 5: / }).waitFor();
    await expect.poll(() => page.getByRole('link', { name: /lot BR-26/ }).count()).toBe(0);
    expect(await accessFaults(page)).toEqual([]);
    for (const width of [390, 1280]) {
      await page.setViewportSize({ width, height: 800 });
      // drawings follow the width of their page in a moment
      await expect
        .poll(() => page.evaluate('document.documentElement.scrollWidth - document.documentElement.clientWidth'), {
          message: String(width),
        })
        .toBe(0);
    }
  });

  it('proposes the next study, and one press makes a plan of it', async () => {
    const page = await demo.newPage();
    await open(page, `${demo.url}/ranking/next`);
    expect(await accessFaults(page)).toEqual([]);
    const proposals = page.getByRole('list', { name: 'Proposals' }).getByRole('listitem');
    // as it stands it has an answer
    await page.getByRole('button', { name: 'Find the next study' }).click();
    await expect.poll(() => proposals.count()).toBe(3);
    await page.getByLabel('Bench hours at hand').fill('3');
    await page.getByRole('button', { name: 'Find the next study' }).click();
    await page.getByText('Two materials with 5 mounts each take 24.2 h. Give more hours, or fewer mounts.').waitFor();
    await page.getByLabel('Bench hours at hand').fill('30');
    await page.getByLabel('Mounts of each').fill('4');
    await page.getByLabel('Wick 60').check();
    await page.getByLabel('Tarn').check();
    await page.getByLabel('Alder Grey').check();
    await page.getByRole('button', { name: 'Find the next study' }).click();
    await expect.poll(() => proposals.count()).toBe(3);
    const words = (await proposals.first().getByRole('heading').textContent()) ?? '';
    expect(words).toMatch(/^(Wick 60|Tarn|Alder Grey).* on (North|South|Hut)/);
    expect(await proposals.first().textContent()).toMatch(/Narrows the interval of .+ by \d+ %|Halves the interval/);
    // what is typed after that is no part of what was found
    await page.getByLabel('Mounts of each').fill('9');
    const told = (await proposals.first().textContent()) ?? '';
    await proposals.first().getByRole('button', { name: 'Plan this study' }).click();
    await page.waitForURL(/\/studies\/\d+\/plan$/);
    expect(await page.title()).toContain(words.split(' on ')[0].split(',')[0].split(' and ')[0]);
    // as many mounts as were asked for, in an order that is drawn
    const id = Number(/studies\/(\d+)/.exec(page.url())?.[1]);
    const view = (await (await fetch(`${demo.url}/api/studies/${id}/plan`)).json()) as {
      plan: { mounts: number; varies: string };
      mounts: unknown[];
      context: { specimens: { name: string; material: object | null; stock_left: number | null }[] };
    };
    expect(view.plan).toMatchObject({ mounts: 4, varies: 'material' });
    expect(view.context.specimens.length).toBeGreaterThanOrEqual(2);
    expect(view.context.specimens.every((s) => s.material !== null)).toBe(true);
    // of what there is too little of the proposal and the plan say so, and the plan orders what there is
    for (const { name, stock_left } of view.context.specimens)
      expect(new RegExp(`Left on the shelf: .*(${name} for ${stock_left} mount|no ${name})`).test(told), `${name}: ${stock_left}`).toBe(
        stock_left !== null && stock_left < 4,
      );
    const stocked = view.context.specimens.map((s) => Math.min(4, s.stock_left ?? 4));
    expect(view.mounts).toHaveLength(stocked.reduce((a, b) => a + b, 0));
  });

  it('charts its reference over the years', async () => {
    const page = await demo.newPage();
    await open(page, `${demo.url}/ranking/lab`);
    await page.getByRole('region', { name: 'North bench, Heron' }).waitFor();
    expect(await accessFaults(page)).toEqual([]);
  });
});

describe('more set-ups than are compared at once', () => {
  it('are compared handful by handful, with progress, when they are asked for', async () => {
    const many = await startApp('empty');
    for (let s = 0; s < 26; s++) {
      await post(`${many.url}/api/shelf/rigs`, {
        name: `Bench ${s}`,
        sheet: { contact: 'lid', contact_length_mm: 20, contact_width_mm: 15 },
      });
      const random = seededRandom(s);
      await post(`${many.url}/api/typed-runs/table`, {
        ...{ study_title: `Study ${s}`, kind: 'paste', rig: `Bench ${s}` },
        rows: ['Ash', 'Birch'].flatMap((specimen, m) =>
          [1, 2].map((mount) => ({
            ...{ import_id: randomUUID(), specimen, mount },
            // one set-up has them the other way round
            texts: {
              mean_c: (60 + (s === 7 ? -6 : 6) * m + 0.2 * random.normal()).toFixed(2),
              ...{ room_c: '22.00', power_w: '80.0' },
            },
          })),
        ),
      });
    }
    const page = await many.newPage();
    await open(page, `${many.url}/ranking`);
    await page.getByText('26 set-ups, 2 materials, 104 mounts.').waitFor();
    await expect.poll(() => page.getByRole('note').count()).toBe(0);
    await page.getByRole('button', { name: 'Compare each set-up with the others' }).click();
    const odd = page.getByRole('note', { name: 'Finding of Bench 7' });
    await odd.waitFor();
    await expect.poll(() => page.getByRole('note').count()).toBe(1);
    expect(await odd.textContent()).toMatch(/Birch against Ash: −\d+\.\d here, \+\d+\.\d mm²·K\/W by the others \(p < 0\.001\)/);
    await many.stop();
  });
});
