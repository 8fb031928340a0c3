import { execFileSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import type { Page } from 'playwright-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { write } from '#core/text/words';
import type { ReportContent } from '#features/report/model/content';
import type { StudyFacts } from '#features/results/model/facts';
import { mainPairs } from '#features/results/model/pairs';
import { NORTH_BENCH } from '#simulator/rigs';
import { simulateRun } from '#simulator/simulateRun';
import { writeLog } from '#simulator/writeLog';
import { base } from '../simulatedLog.ts';
import { accessFaults } from './access.ts';
import { type App, dropFiles, open, startApp } from './app.ts';

let app: App;
let page: Page;
beforeAll(async () => {
  app = await startApp('demo');
  page = await app.newPage();
});
afterAll(() => app.stop());

const plain = (text: string) => text.replaceAll('−', '-').replace(/\s+/g, ' ');
const main = async () => plain(await page.locator('main').innerText());
const shown = () => expect.poll(main);
const choice = (label: string) => page.getByRole('region', { name: 'What is compared, and how' }).getByLabel(label, { exact: true });
const region = (name: string) => page.getByRole('region', { name, exact: true });

describe('the results of eight materials', () => {
  it('say which sentences change where another school is chosen, and none where the own one is', async () => {
    await open(page, `${app.url}/studies/1/results`);
    await expect.poll(() => region('What changes compared with the settings of the study').count()).toBe(0);
    const own = await main();
    await choice('Scatter').selectOption({ label: 'One for all' });
    const changed = region('What changes compared with the settings of the study');
    await changed.waitFor();
    const said = /Another method would judge (\d) of 28 pairs differently/;
    const leaning = Number(said.exec(own)?.[1]);
    await expect.poll(async () => (await changed.getByRole('listitem').count()).toString()).toMatch(/^[1-9]$/);
    // only verdicts that lean on the scatter can change, and no firm one does
    await expect.poll(() => changed.getByRole('listitem').count()).toBeLessThanOrEqual(leaning);
    for (const before of await changed.locator('del').allInnerTexts())
      expect(before).toMatch(/depends on the method|cannot be distinguished/);
    await choice('Scatter').selectOption({ label: 'Chosen for the design' });
    await changed.waitFor({ state: 'detached' });
  });

  it('switch the outcome, and tell it in its own words and unit', async () => {
    await choice('Outcome').selectOption({ label: 'Resistance' });
    await page.getByRole('heading', { level: 1, name: /has 0\.\d{3} K\/W less resistance than Loam White/ }).waitFor();
    await page
      .getByRole('figure', { name: /^Ladder/ })
      .getByText('Resistance / K/W')
      .waitFor();
    await choice('Outcome').selectOption({ label: 'ΔT at a stated power' });
    await choice('Power / W').fill('70');
    // half the power, half the difference
    await page.getByRole('heading', { level: 1, name: /would run 1\.[5-9] K cooler than Loam White/ }).waitFor();
    await choice('Outcome').selectOption({ label: 'ΔT over ambient' });
  });

  it('judge fewer pairs at once more sharply', async () => {
    await choice('Pairs').selectOption({ label: 'With the reference' });
    await page.getByText('for all 7 pairs at once').waitFor();
    await choice('Pairs').selectOption({ label: 'All pairs' });
    await page.getByText('for all 28 pairs at once').waitFor();
  });

  it('leave a mount out only with a reason, and tell both answers', async () => {
    await page.getByRole('button', { name: /^Tarn, mount 2: / }).click();
    const leave = page.getByRole('button', { name: 'Leave out' });
    await expect.poll(() => leave.isDisabled()).toBe(true);
    await page.getByLabel('Reason for leaving it out').fill('first drop not thrown away');
    // a colleague was first: theirs is told, one's own words stay, and replace theirs where one presses again
    const place = await (await fetch(`${app.url}/api/places?study=1`)).json();
    const tarn = place.specimens.find((s: { name: string; study_id: number }) => s.name === 'Tarn' && s.study_id === 1);
    const { id } = place.mounts.find((m: { specimen_id: number; number: number }) => m.specimen_id === tarn.id && m.number === 2);
    const theirs = { method: 'PUT', headers: { 'content-type': 'application/json' }, body: '{"reason": "lid tilted", "who": "MK"}' };
    expect((await fetch(`${app.url}/api/mounts/${id}/excluded`, theirs)).status).toBe(200);
    await leave.click();
    await page.getByText('Since this page was loaded MK left this mount out: “lid tilted”. Nothing was overwritten').waitFor();
    await expect.poll(() => page.getByLabel('Reason for leaving it out').inputValue()).toBe('first drop not thrown away');
    await Promise.all([page.waitForEvent('load'), leave.click()]);
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    await shown().toContain('left out: mount 2, first drop not thrown away');
    expect(await main()).toMatch(/Include what was left out/);
    expect(await main()).toContain('Tarn mount 2 run 1 (first drop not thrown away)');
    await page.getByLabel('Include what was left out').check();
    await page.getByRole('heading', { level: 3, name: 'Without what was left out' }).waitFor();
    await page.getByLabel('Include what was left out').uncheck();
  });

  it('keep words of the tester beside the verdicts they rest on', async () => {
    await page.getByRole('button', { name: 'Add recommendation …' }).click();
    await page.getByLabel('Reader', { exact: true }).fill('Who never wants to open it again');
    await page.getByLabel('What to choose').fill('Take Wick 60.');
    await page
      .getByRole('group', { name: 'Rests on' })
      .getByLabel(/^Wick 60 runs 1\.9 K cooler than Loam White/)
      .check();
    await page.getByRole('button', { name: 'Save recommendation' }).click();
    await page.getByText('Take Wick 60.', { exact: true }).waitFor();
    expect(await main()).not.toContain('The verdict behind this has changed');
  });

  it('flag the words where a new run turns the verdict under them', async () => {
    const samples = simulateRun(NORTH_BENCH, { ...base, interface_k_per_w: 0.16, seed: 77 });
    await dropFiles(page, [{ name: 'wick_new_mount.csv', bytes: new TextEncoder().encode(writeLog(samples, 1_782_000_000)) }]);
    await page.getByLabel('Specimen', { exact: true }).selectOption({ label: 'Wick 60' });
    await page.getByRole('button', { name: 'Store this run' }).click();
    await page.waitForURL(/\/runs\/\d+$/);
    await open(page, `${app.url}/studies/1/results`);
    await shown().toMatch(
      /The verdict behind this has changed\. It was: Wick 60 runs 1\.9 K cooler than Loam White .* Now: .*(not distinguishable|depends on)/,
    );
    // all planned mounts were in when the verdict was shown: this one was added with it known
    expect(await main()).toMatch(/A verdict was shown at \d+ mounts, and more were added outside the planned analyses/);
    expect(await main()).toMatch(/Mount 6 of Wick 60 lies far above its specimen's other mounts/);
  });
});

describe('the address of results', () => {
  it('holds what was chosen, so that a reload and a link show the same', async () => {
    await open(page, `${app.url}/studies/1/results`);
    const headline = () => page.getByRole('heading', { level: 1 }).innerText();
    const first = await headline();
    await page.getByLabel('Outcome').selectOption({ label: 'Resistance' });
    await page.getByRole('combobox', { name: 'Pairs' }).selectOption({ index: 1 });
    await expect.poll(headline).not.toBe(first);
    const { search } = new URL(page.url());
    expect(Object.fromEntries(new URLSearchParams(search))).toEqual({ outcome: 'r_k_per_w', pairs: 'reference' });
    const said = await headline();
    await page.reload();
    await expect.poll(headline).toBe(said);
    expect(await page.getByLabel('Outcome').locator('option:checked').innerText()).toBe('Resistance');
    await page.getByLabel('Outcome').selectOption({ label: 'ΔT over ambient' });
    await page.getByRole('combobox', { name: 'Pairs' }).selectOption({ index: 0 });
    await expect.poll(() => new URL(page.url()).search).toBe('');
    // what the study does not have is not chosen
    await open(page, `${app.url}/studies/1/results?outcome=colour&adjust=moon&load=Render&at=-3`);
    expect(await headline()).toBe(first);
  });

  it('has a list of its parts that follows', async () => {
    const list = page.getByRole('navigation', { name: 'On this page' });
    await list.getByRole('link', { name: 'Pairs' }).click();
    await expect.poll(() => list.locator('[aria-current]').innerText()).toBe('Pairs');
    expect((await list.boundingBox())?.y).toBeLessThan(4);
    await page.evaluate(() => window.scrollTo(0, document.body.scrollHeight));
    await expect.poll(() => list.locator('[aria-current]').innerText()).toBe('Findings');
  });
});

describe('the report', () => {
  it('warns of words that are out of step, is put in order, and published all the same', async () => {
    await open(page, `${app.url}/studies/1/report`);
    await page.getByRole('button', { name: 'Verdicts up' }).click();
    await page.locator('li').filter({ hasText: 'Price and effort' }).getByRole('checkbox').uncheck();
    await page.getByLabel('Text above The question').fill('Written for the huts.');
    await expect.poll(() => page.getByRole('heading', { name: 'Price and effort' }).count()).toBe(0);
    await page.locator('li').filter({ hasText: 'Price and effort' }).getByRole('checkbox').check();
    await page.locator('li').filter({ hasText: 'Price and effort' }).getByText('Add your own text').click();
    await page.getByLabel('Text above Price and effort').fill('Prices of June.');
    await page.getByRole('button', { name: 'Save sections' }).click();
    await page.getByRole('button', { name: 'Stored' }).waitFor();
    await page.getByRole('button', { name: 'Publish version 1 …' }).click();
    const asked = page.getByRole('form', { name: 'Publish the report' });
    expect(plain(await asked.innerText())).toMatch(/^Frozen for good: \d+ runs on \d+ mounts of 8 specimens\. “.* runs .* cooler than/);
    await asked.getByText(/The verdict under the recommendation for .*Who never wants to open it again.* has changed/).waitFor();
    await page.getByLabel('Author').fill('E. B., Thornmere workshop');
    await page.getByRole('button', { name: 'Publish anyway' }).click();
    await page.waitForURL(/\/reports\/eight-materials-on-the-tm-6-lid-1-v1$/);
  });

  it('stands at its address, and what is exported has its checksum and its figures, on paper too', async () => {
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    const text = plain(await page.locator('body').innerText());
    const json = await (await fetch(`${app.url}/api/reports/eight-materials-on-the-tm-6-lid-1-v1/report.json`)).text();
    expect(text).toContain(createHash('sha256').update(json).digest('hex'));
    const content: ReportContent = JSON.parse(json);
    expect(content.sections[0]).toEqual({ key: 'question', words: 'Written for the huts.' });
    const pdf = Buffer.from(await (await fetch(`${app.url}/api/reports/eight-materials-on-the-tm-6-lid-1-v1/report.pdf`)).arrayBuffer());
    const file = path.join(tmpdir(), `report-${process.pid}.pdf`);
    writeFileSync(file, pdf);
    const printed = plain(execFileSync('pdftotext', ['-layout', file, '-'], { encoding: 'utf8' }));
    for (const s of content.answer.analysis?.specimens ?? []) {
      expect(printed, s.specimen).toContain(`${write(s.mean, 1)} K`);
      expect(printed, s.specimen).toContain(plain(`${write(s.ci?.[0] ?? 0, 1)} to ${write(s.ci?.[1] ?? 0, 1)}`));
    }
    for (const p of mainPairs(content.answer)) expect(printed).toContain(plain(p.sentence).slice(0, 60));
    expect(printed).toContain('Written for the huts.');
    expect(printed).toContain('first drop not thrown away');
    expect(printed).toContain(content.answer.headline.claim);
  });

  it('says in the next version what changed since', async () => {
    await page.getByRole('link', { name: 'Back to the study' }).click();
    await page.waitForURL(/\/studies\/1\/report$/);
    await open(page, `${app.url}/studies/1/results`);
    await page.getByRole('button', { name: /^Wick 60, mount 6: / }).click();
    await page.getByLabel('Reason for leaving it out').fill('sheet folded');
    await Promise.all([page.waitForEvent('load'), page.getByRole('button', { name: 'Leave out' }).click()]);
    await open(page, `${app.url}/studies/1/report`);
    await page.getByRole('button', { name: 'Publish version 2 …' }).click();
    // who published last is asked no more than once
    await expect.poll(() => page.getByLabel('Author').inputValue()).toBe('E. B., Thornmere workshop');
    await page
      .getByRole('form', { name: 'Publish the report' })
      .getByRole('button', { name: /^Publish/ })
      .click();
    await page.waitForURL(/-v2$/);
    expect(plain(await page.locator('article header').innerText())).toContain('E. B., Thornmere workshop');
    const text = plain(await page.locator('footer').innerText());
    expect(text).toContain('What changed since version 1');
    expect(text).toContain('Wick 60 mount 6 was left out.');
    expect(text).toMatch(/Verdict: ".*" became "Wick 60 runs 1\.9 K cooler than Loam White/);
    // the first version is as it was
    expect(
      (await (await fetch(`${app.url}/api/reports/eight-materials-on-the-tm-6-lid-1-v1/report.json`)).text()).includes('sheet folded'),
    ).toBe(false);
  });

  it('keeps the rules of access', async () => {
    expect(await accessFaults(page)).toEqual([]);
  });

  it('is found from the studies, withdrawn with a reason that its readers see, and stood by again', async () => {
    await open(page, `${app.url}/studies`);
    expect(await page.getByRole('link', { name: 'Published, version 2' }).getAttribute('href')).toBe(
      '/reports/eight-materials-on-the-tm-6-lid-1-v2',
    );
    await open(page, `${app.url}/studies/1/report`);
    await page.getByRole('button', { name: 'Withdraw version 2 …' }).click();
    await expect.poll(() => page.getByRole('button', { name: 'Withdraw version', exact: true }).isDisabled()).toBe(true);
    await page.getByLabel('Reason for the withdrawal').fill('The room probe stood in the sun.');
    await Promise.all([page.waitForEvent('load'), page.getByRole('button', { name: 'Withdraw version', exact: true }).click()]);
    await page.getByText('Withdrawn: The room probe stood in the sun.').waitFor();
    expect(await accessFaults(page)).toEqual([]);
    const reader = await page.context().newPage();
    await open(reader, `${app.url}/reports/eight-materials-on-the-tm-6-lid-1-v2`);
    expect(plain(await reader.getByRole('alert').innerText())).toMatch(/^Withdrawn on \d{4}-\d\d-\d\d: The room probe stood in the sun\.$/);
    const markdown = await (await fetch(`${app.url}/api/reports/eight-materials-on-the-tm-6-lid-1-v2/report.md`)).text();
    expect(markdown).toMatch(
      /^# Eight materials.*\n\n\*\*Withdrawn on .*:\*\* The room probe stood in the sun\.\n\nBy E\. B\., Thornmere workshop\n/,
    );
    // the studies lead to the last version that stands
    await open(reader, `${app.url}/studies`);
    await reader.getByRole('link', { name: 'Published, version 1' }).waitFor();
    await reader.close();
    await Promise.all([page.waitForEvent('load'), page.getByRole('button', { name: 'Undo', exact: true }).click()]);
    await page.getByRole('button', { name: 'Withdraw version 2 …' }).waitFor();
    await expect.poll(() => page.getByText('Withdrawn:').count()).toBe(0);
    await open(page, `${app.url}/reports/eight-materials-on-the-tm-6-lid-1-v2`);
  });

  it('gives its tables as CSV, Markdown and HTML, and refuses what it has not', async () => {
    const of = (file: string) => fetch(`${app.url}/api/reports/eight-materials-on-the-tm-6-lid-1-v2/${file}`);
    expect(await (await of('pairs.csv')).text()).toMatch(/^a,b,a − b \/ K,.*\r?\nLoam White,Alder Grey,-0\.\d+/);
    expect(await (await of('specimens.md')).text()).toMatch(/^\| Specimen \| Mounts \|.*\n\| --- \|/);
    expect(await (await of('method.html')).text()).toContain('<td>Warm Gauge 0.1.0</td>');
    expect(await (await of('report.md')).text()).toMatch(
      /^# Eight materials on the TM-6 lid\n\nBy E\. B\., Thornmere workshop\n\n## The question\n\nWritten for the huts\./,
    );
    const refused = await of('everything.xls');
    expect(refused.status).toBe(404);
    expect((await refused.json()).error).toContain('there are report.json');
    expect((await fetch(`${app.url}/reports/nothing-here`)).status).toBe(404);
  });
});

describe('an old card before and after', () => {
  let facts: StudyFacts;
  const mean = (specimen: string, of: (r: StudyFacts['runs'][number]) => number | null | undefined) => {
    const values = facts.runs.filter((r) => r.specimen === specimen).map((r) => of(r) ?? Number.NaN);
    return values.reduce((a, b) => a + b, 0) / values.length;
  };

  it('carries K/W, clock and throttled share, as its temperature was held at the limit', async () => {
    facts = (await (await fetch(`${app.url}/api/studies/3/results.json`)).json()).facts;
    await open(page, `${app.url}/studies/3/results`);
    await page.getByRole('heading', { level: 1, name: /^Refurbished has 0\.\d+ K\/W less resistance than As found/ }).waitFor();
    const table = region('As found and Refurbished');
    const row = async (name: RegExp) => plain(await table.getByRole('row', { name }).innerText());
    expect(await row(/^ΔT over ambient/)).toMatch(/≥ \d\d\.\d .*not compared/);
    const resistance = mean('Refurbished', (r) => r.values.r_k_per_w) - mean('As found', (r) => r.values.r_k_per_w);
    expect(await row(/^Resistance/)).toContain(`${resistance.toFixed(3)} K/W (`);
    const clock = mean('Refurbished', (r) => r.values.clock) - mean('As found', (r) => r.values.clock);
    expect(await row(/^Clock/)).toContain(`+${clock.toFixed(0)} MHz (`);
    expect(await row(/^Throttled share/)).toContain('-100.0 % (');
    expect(await row(/^Score/)).toMatch(/\+\d+ points/);
    expect(await main()).toMatch(/the temperature alone understates the gain/);
  });

  it('explains the exhaust with the difference that power and fan alone let expect', async () => {
    const was = mean('As found', (r) => r.exhaust_rise_k);
    const expected =
      was *
      (mean('Refurbished', (r) => r.power_w) / mean('As found', (r) => r.power_w)) *
      (mean('As found', (r) => r.values.fan_speed) / mean('Refurbished', (r) => r.values.fan_speed));
    const change = expected - was;
    expect(await main()).toContain(`rpm alone ${change > 0 ? '+' : ''}${change.toFixed(1)} K are to be expected`);
    expect(await main()).toContain('Hotter exhaust at equal power means less air, not a better or worse interface.');
  });
});

describe('coolers over their fan speeds', () => {
  const title = () => page.getByRole('heading', { level: 1 });
  const figures = async () => plain(await region('The coolers at the level compared').innerText());
  it('are told at the noise of the plan, where equal speed told otherwise', async () => {
    await open(page, `${app.url}/studies/4/coolers`);
    expect(plain(await title().innerText())).toMatch(
      /^At 32\.0 dB\(A\): (Weir 240 and Heron|Heron and Weir 240) are equivalent within ±1\.5 K/,
    );
    expect(await figures()).toMatch(/Heron 11[45]\d 32\.0 41\.\d/);
    await page.getByText('Equal fan speed', { exact: true }).click();
    await expect.poll(async () => plain(await title().innerText())).toMatch(/^At 1150 rpm: Weir 240 runs 2\.\d K cooler than Heron/);
  });

  it('are judged anew where the noise slider is moved, and named where one was not measured', async () => {
    await page.getByText('Equal noise', { exact: true }).click();
    const slider = page.getByRole('slider', { name: /^Noise/ });
    await slider.fill('41');
    await expect.poll(figures).toMatch(/Weir 240 \d+ 41\.0 3\d\.\d/);
    expect(await main()).toMatch(
      /Low Otter does not reach 41\.0 dB\(A\) within its measured speeds, which give 2\d\.\d to 3\d\.\d dB\(A\)\./,
    );
    await expect.poll(async () => plain(await title().innerText())).toMatch(/^At 41\.0 dB\(A\): Weir 240/);
    await slider.press('ArrowLeft');
    await expect.poll(figures).toMatch(/40\.9/);
    await page.getByText('Equal temperature', { exact: true }).click();
    await expect.poll(async () => plain(await title().innerText())).toMatch(/^To hold 4\d\.\d K: .*dB\(A\)/);
  });

  it('keep the rules of access, and fit a phone', async () => {
    expect(await accessFaults(page)).toEqual([]);
    const phone = await app.newPage({ viewport: { width: 390, height: 844 } });
    await open(phone, `${app.url}/studies/4/coolers`);
    expect(await phone.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth)).toBeLessThanOrEqual(0);
    await phone.close();
  });

  it('are not told by the mean over their speeds alone, in the table of studies or in the results', async () => {
    await open(page, `${app.url}/studies`);
    expect(plain(await page.getByRole('row', { name: /^Coolers at equal noise/ }).innerText())).toMatch(
      /At 32\.0 dB\(A\): (Weir 240 and Heron|Heron and Weir 240) are equivalent/,
    );
    await open(page, `${app.url}/studies/4/results`);
    expect(await main()).toContain('Mounts were run at several fan speeds; this page takes the mean over them.');
    expect(plain(await region('Findings').innerText())).toContain('a mount’s value here is the mean over them');
    await page.getByRole('link', { name: 'Compare at equal noise, speed or temperature' }).click();
    await title().filter({ hasText: 'At 32.0' }).waitFor();
  });

  it('crossed with fans say what the heatsink and the fan account for', async () => {
    await open(page, `${app.url}/studies/5/coolers`);
    expect(plain(await title().innerText())).toMatch(
      /^The heatsink accounts for 2\.\d K \(95 % \d\.\d to \d\.\d\): Heron runs that much cooler than Plover, taken over the fans\.$/,
    );
    expect(await main()).toMatch(/The fan accounts for 0\.\d K \(95 % 0\.\d to \d\.\d\): Gale 120 runs that much cooler than Hush 120/);
    expect(await main()).toContain('What the heatsink gains does not depend on the fan, within 1.5 K');
  });
});

describe('what time does', () => {
  it('tells the paste that lost from the sheet that stayed, each by its own mounts', async () => {
    await open(page, `${app.url}/studies/6/ageing`);
    expect(plain(await page.getByRole('heading', { level: 1 }).innerText())).toMatch(
      /^Bramble 5 runs 1\.\d K warmer after 60 days \(95 % \d\.\d to \d\.\d, 4 mounts\), 0\.\d K a month/,
    );
    expect(plain(await region('Changed or not, against 1.0 K').innerText())).toMatch(
      /Wick 60 (runs 0\.\d K cooler after 60 days .*less than the 1 K|is after 60 days as it was, within 1 K)/,
    );
    const due = plain(await region('To be measured next').innerText());
    // the eighth was opened
    expect(due.match(/ 90 2\d{3}-\d\d-\d\d/g)).toHaveLength(7);
    const calendar = await (await fetch(`${app.url}/api/studies/6/due.ics`)).text();
    expect(calendar).toContain('SUMMARY:Wick 60\\, mount 4: measure at 90 days');
    expect((await fetch(`${app.url}/api/studies/1/due.ics`)).status).toBe(400);
    expect(await accessFaults(page)).toEqual([]);
  });
  it('and what lapping a lid gained', async () => {
    await open(page, `${app.url}/studies/7/results`);
    expect(plain(await page.getByRole('heading', { level: 1 }).innerText())).toMatch(
      /^Lid lapped (runs 0\.\d K cooler than Lid as made|and Lid as made|is)|^Lid as made and Lid lapped/,
    );
  });
});

describe('the stack from die to room', () => {
  const gain = async (name: RegExp) =>
    Number(
      plain(await page.getByRole('row', { name }).innerText())
        .split(/\s/)
        .at(-1),
    );
  it('is fitted to a measured whole, sums to it, and says what a perfect interface would leave', async () => {
    await open(page, `${app.url}/tools/stack`);
    await page.getByLabel('Measured', { exact: true }).selectOption({
      label: (await page.getByLabel('Measured', { exact: true }).locator('option').allInnerTexts()).find(
        (t) => t.startsWith('Alder Grey') && t.includes('5 mounts'),
      ) as string,
    });
    await page.getByRole('button', { name: 'Fit it' }).click();
    await page
      .getByRole('status')
      .filter({ hasText: /^Sink to the air takes 0\.\d{3} K\/W \(± 0\.\d{3}\) instead of 0\.140/ })
      .waitFor();
    const drawing = plain((await page.getByTestId('stack-drawing').getAttribute('aria-label')) as string);
    const parts = [...drawing.matchAll(/(\d+\.\d) K/g)].map((m) => Number(m[1]));
    const whole = Number(/of (\d+\.\d) K/.exec(plain(await page.getByTestId('stack-sentence').innerText()))?.[1]);
    expect(Math.abs(parts.reduce((a, b) => a + b, 0) - whole)).toBeLessThan(0.4);
    const facts: StudyFacts = (await (await fetch(`${app.url}/api/studies/1/results.json`)).json()).facts;
    const grey = facts.runs.filter((r) => r.specimen === 'Alder Grey' && r.valid).map((r) => r.values.rise ?? Number.NaN);
    expect(Math.abs(whole - grey.reduce((a, b) => a + b, 0) / grey.length)).toBeLessThan(0.3);
  });
  it('answers what another material and a colder room would do', async () => {
    expect(await gain(/^Room 5 K colder/)).toBe(5);
    await page.getByLabel('Another material').selectOption('Tarn');
    const tarn = await gain(/^Tarn under the cooler/);
    expect(tarn).toBeGreaterThan(0.5);
    expect(tarn).toBeLessThan(await gain(/^Perfect interface/));
    await page.getByRole('textbox', { name: 'Power / W' }).fill('70');
    await expect.poll(() => gain(/^Tarn under the cooler/)).toBeLessThan(0.6 * tarn);
  });
  it('of a study starts from its rig, material and runs, and asks for one figure at a time', async () => {
    await open(page, `${app.url}/studies/1/results`);
    await page.getByRole('link', { name: 'Where the kelvins go, from the die to the room' }).click();
    await page.waitForURL(/\/tools\/stack\?study=1$/);
    await page.waitForFunction(() => document.querySelector('astro-island[ssr]') === null);
    const asked = page.getByRole('region', { name: 'One figure at a time' });
    const text = async () => plain(await asked.innerText());
    expect(await text()).toMatch(/^Loam White of Eight materials on the TM-6 lid: 0\.\d{3} K\/W in all over 5 mounts/);
    const left = async () => Number(/(\d+) figures? still/.exec(await text())?.[1]);
    const before = await left();
    await asked.getByLabel('Die: How well does it conduct?').fill('148');
    await asked.getByRole('button', { name: 'Include' }).click();
    await asked.getByLabel('Die: How thick is it?').waitFor();
    await asked.getByRole('button', { name: 'Not known' }).click();
    await asked.getByLabel('Die: How large is it?').waitFor();
    expect(await left()).toBe(before - 2);
    // the whole stays what was measured: the sink takes what the die gave up
    const whole = Number(/of (\d+\.\d) K/.exec(plain(await page.getByTestId('stack-sentence').innerText()))?.[1]);
    const facts: StudyFacts = (await (await fetch(`${app.url}/api/studies/1/results.json`)).json()).facts;
    const loam = facts.runs.filter((r) => r.specimen === 'Loam White' && r.valid).map((r) => r.values.rise ?? Number.NaN);
    expect(Math.abs(whole - loam.reduce((a, b) => a + b, 0) / loam.length)).toBeLessThan(0.4);
    await open(page, `${app.url}/tools/stack`);
  });
  it('refuses a whole that is less than its parts', async () => {
    await page.getByLabel('Measured', { exact: true }).selectOption({ label: 'typed' });
    await page.getByRole('textbox', { name: 'Typed / K/W' }).fill('0.05');
    await page.getByRole('button', { name: 'Fit it' }).click();
    await page.getByRole('alert').filter({ hasText: 'is less than the other layers alone' }).waitFor();
  });
});
