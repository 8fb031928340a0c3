/**
 * The results and the report of a large study, 40 specimens × 10 mounts × 3 runs, as a person waits for them: the comparison in the worker
 * with all it tells, the redraw after a change of school, and the report from request to drawn. The application must have been built.
 */
import { randomUUID } from 'node:crypto';
import { chromium } from 'playwright-core';
import { seededRandom } from '#core/stats/random';
import { studyChoice } from '#features/results/model/choice';
import type { StudyFacts } from '#features/results/model/facts';
import { answerResults } from '#features/results/model/resultsAnswer';
import { CHROMIUM } from '../scripts/chromium.mjs';
import { startStore } from '../scripts/store.mjs';
import { type BuiltApp, median, startBuiltApp } from './builtApp';

const [SPECIMENS, MOUNTS, RUNS] = [40, 10, 3];
const ROUNDS = 7;

/** As text, so that nothing of the bundler's goes with it. */
const SWITCH = `(async () => {
  const select = [...document.querySelectorAll('select')].find((s) => [...s.options].some((o) => o.value === 'pooled'));
  const set = Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set;
  const times = [];
  for (const school of ['pooled', 'separate', 'pooled', 'separate', 'pooled', 'separate', 'pooled', 'separate']) {
    const start = performance.now();
    const done = new Promise((resolve) => {
      const watch = new MutationObserver(() => {
        const says = [...document.querySelectorAll('p')].find((p) => p.textContent.startsWith('Verdicts use'));
        if (!says?.textContent.includes(school === 'pooled' ? 'one pooled' : 'own scatter')) return;
        watch.disconnect();
        requestAnimationFrame(() => resolve());
      });
      watch.observe(document.body, { subtree: true, childList: true, characterData: true });
    });
    set.call(select, school);
    select.dispatchEvent(new Event('change', { bubbles: true }));
    await done;
    times.push(performance.now() - start);
    await new Promise((next) => setTimeout(next, 1500));
  }
  return times.slice(1);
})()`;
const store = await startStore('-c fsync=off');
let app: BuiltApp | null = null;
try {
  app = await startBuiltApp(store.url);
  const { url } = app;
  const study = await fill(url);
  const { facts } = (await (await fetch(`${url}/api/studies/${study}/results.json`)).json()) as { facts: StudyFacts };
  const choice = studyChoice(facts);
  const copy = timed(() => JSON.parse(JSON.stringify(facts.runs)));
  say(
    'Everything the results place tells of 1,200 runs, 780 pairs (target 250 ms)',
    timed(() => answerResults(facts, choice)),
    'its runs written and read as JSON',
    copy,
  );
  const days = { ...choice, block: 'day' as const };
  say(
    'The same with bench days as blocks',
    timed(() => answerResults(facts, days)),
    'its runs written and read as JSON',
    copy,
  );

  const browser = await chromium.launch(CHROMIUM);
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const plain = await drawn(page, `${url}/studies`, 'h1');
  say(
    'Results place, from request to its drawn ladder',
    await drawn(page, `${url}/studies/${study}/results`, 'svg.recharts-surface'),
    'the list of studies',
    plain,
  );
  say(
    'Of that the answer of the server',
    await answered(`${url}/studies/${study}/results`),
    'the list of studies',
    await answered(`${url}/studies`),
  );
  await page.hover('section[aria-label="What is compared, and how"]');
  await page.waitForTimeout(1500);
  const frame = await page.evaluate(
    'new Promise((done) => requestAnimationFrame(() => { const t = performance.now(); requestAnimationFrame(() => done(performance.now() - t)); }))',
  );
  say(
    'Change of school, from choice to its sentence on the screen',
    median((await page.evaluate(SWITCH)) as number[]),
    'a frame of the screen',
    Number(frame),
  );
  say(
    'Report (target 2 s), from request to its drawn ladder',
    await drawn(page, `${url}/studies/${study}/report`, '.report svg.recharts-surface'),
    'the list of studies',
    plain,
  );
  say(
    'Of that the answer of the server',
    await answered(`${url}/studies/${study}/report`),
    'the list of studies',
    await answered(`${url}/studies`),
  );
  await browser.close();
} finally {
  app?.stop();
  store.stop();
}

function timed(work: () => unknown): number {
  work();
  return median(
    Array.from({ length: ROUNDS }, () => {
      const start = performance.now();
      work();
      return performance.now() - start;
    }),
  );
}

/** Time to the whole answer of the server. */
async function answered(address: string): Promise<number> {
  const times: number[] = [];
  for (let i = 0; i < 5; i++) {
    const start = performance.now();
    await (await fetch(address)).text();
    times.push(performance.now() - start);
  }
  return median(times);
}

async function drawn(page: import('playwright-core').Page, address: string, what: string): Promise<number> {
  const times: number[] = [];
  for (let i = 0; i < 4; i++) {
    const start = performance.now();
    await page.goto(address);
    await page.locator(what).first().waitFor();
    times.push(performance.now() - start);
  }
  // the first fetches what later visits have
  return median(times.slice(1));
}

function say(what: string, ms: number, beside: string, base: number): void {
  console.log(`${what}\n  ${ms.toFixed(0)} ms, ${(ms / base).toFixed(1)} × ${beside} (${base.toFixed(1)} ms)`);
}

/** Fills a study with typed runs through the interface of the application. */
async function fill(url: string): Promise<number> {
  const random = seededRandom(40);
  const post = async (path: string, body: unknown) => {
    const answer = await fetch(`${url}/api/${path}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify(body),
    });
    if (!answer.ok) throw new Error(`${path}: ${await answer.text()}`);
    return answer.json();
  };
  let study = 0;
  let rig = 0;
  for (let s = 0; s < SPECIMENS; s++) {
    let specimen = 0;
    for (let m = 0; m < MOUNTS; m++) {
      let mount = 0;
      const level = 40 + 0.2 * s + 0.5 * random.normal();
      for (let r = 0; r < RUNS; r++) {
        const place = {
          ...(study ? { study_id: study } : { study_title: 'Forty of them' }),
          ...(specimen ? { specimen_id: specimen } : { specimen_name: `Filler ${s + 1}`, specimen_kind: 'paste' }),
          ...(mount ? { mount_id: mount } : {}),
          ...(rig ? { rig_id: rig } : { rig_name: 'Bench' }),
        };
        const texts = { mean_c: `${(22 + level + 0.15 * random.normal()).toFixed(2)} °C`, room_c: '22.0 °C', power_w: '140 W' };
        const read_at = new Date(Date.UTC(2026, 5, 1 + m, 8 + r)).toISOString();
        const stored = await post('typed-runs', { import_id: randomUUID(), place, texts, throttled: 'no', read_at });
        study = stored.study_id;
        if (!specimen || !mount || !rig) {
          const places = await (await fetch(`${url}/api/places`)).json();
          specimen = places.specimens.find((p: { name: string }) => p.name === `Filler ${s + 1}`).id;
          const mounts = places.mounts.filter((p: { specimen_id: number }) => p.specimen_id === specimen);
          mount = mounts[mounts.length - 1].id;
          rig = places.rigs[0].id;
        }
      }
    }
  }
  return study;
}
