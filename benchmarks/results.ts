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
import { noteTarget } from './targets';

const LARGE = { specimens: 40, mounts: 10, runs: 3 };
const ROUNDS = 7;

/**
 * Changes what is compared and how, one choice after the other, and gives for each the time until the last change of the page that came of
 * it, and the longest task meanwhile. As text, so that nothing of the bundler's goes with it.
 */
const CHANGES = `(async () => {
  const set = Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set;
  const changes = [];
  let longest = 0;
  new PerformanceObserver((list) => list.getEntries().forEach((e) => { longest = Math.max(longest, e.duration); })).observe({ type: 'longtask' });
  for (let round = 0; round < 3; round++)
    for (const label of ['Outcome', 'Scatter', 'Pairs']) {
      const select = [...document.querySelectorAll('section[aria-label="What is compared, and how"] label')]
        .find((l) => l.textContent.startsWith(label));
      const pick = document.getElementById(select.htmlFor);
      const other = [...pick.options].map((o) => o.value).filter((v) => v !== pick.value);
      if (other.length === 0) continue;
      longest = 0;
      const start = performance.now();
      let last = start;
      const watch = new MutationObserver(() => requestAnimationFrame(() => { last = performance.now(); }));
      watch.observe(document.querySelector('main'), { subtree: true, childList: true, characterData: true, attributes: true });
      set.call(pick, other[round % other.length]);
      pick.dispatchEvent(new Event('change', { bubbles: true }));
      do await new Promise((next) => setTimeout(next, 250)); while (performance.now() - last < 1000);
      watch.disconnect();
      changes.push({ label, to: pick.value, ms: last - start, longest });
    }
  return changes;
})()`;

interface Change {
  label: string;
  to: string;
  ms: number;
  /** longest task, ms; 0 where none took over 50 */
  longest: number;
}

const store = await startStore('-c fsync=off');
let app: BuiltApp | null = null;
try {
  app = await startBuiltApp(store.url);
  const { url } = app;
  const study = await fill(url, LARGE);
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
  await changed(page, `${url}/studies/${study}/results`, '_large');
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
  await changed(page, `${url}/studies/${await fill(url, { specimens: 8, mounts: 5, runs: 3 })}/results`, '');
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

/** How long a page takes to show another choice, and how long it holds still meanwhile. */
async function changed(page: import('playwright-core').Page, address: string, of: '' | '_large'): Promise<void> {
  await page.goto(address);
  await page.hover('section[aria-label="What is compared, and how"]');
  await page.waitForTimeout(1500);
  const changes = (await page.evaluate(CHANGES)) as Change[];
  for (const { label, to, ms, longest } of changes)
    console.log(`  ${label} to ${to}: ${ms.toFixed(0)} ms, longest task ${longest.toFixed(0)} ms`);
  const ms = median(changes.map((c) => c.ms));
  const longest = Math.max(...changes.map((c) => c.longest));
  noteTarget(`change${of}`, `${ms.toFixed(0)} ms`, ms / 100);
  noteTarget(`long_task${of}`, longest === 0 ? 'under 50 ms' : `${longest.toFixed(0)} ms`, longest / 100);
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
async function fill(url: string, of: typeof LARGE): Promise<number> {
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
  for (let s = 0; s < of.specimens; s++) {
    let specimen = 0;
    for (let m = 0; m < of.mounts; m++) {
      let mount = 0;
      const level = 40 + 0.2 * s + 0.5 * random.normal();
      for (let r = 0; r < of.runs; r++) {
        const place = {
          ...(study ? { study_id: study } : { study_title: `${of.specimens} of them` }),
          ...(specimen ? { specimen_id: specimen } : { specimen_name: `Filler ${s + 1}`, specimen_kind: 'paste' }),
          ...(mount ? { mount_id: mount } : {}),
          ...(rig ? { rig_id: rig } : { rig_name: `Bench ${of.specimens}` }),
        };
        const texts = { mean_c: `${(22 + level + 0.15 * random.normal()).toFixed(2)} °C`, room_c: '22.0 °C', power_w: '140 W' };
        const read_at = new Date(Date.UTC(2026, 5, 1 + m, 8 + r)).toISOString();
        const stored = await post('typed-runs', { import_id: randomUUID(), place, texts, throttled: 'no', read_at });
        study = stored.study_id;
        if (!specimen || !mount || !rig) {
          const places = await (await fetch(`${url}/api/places`)).json();
          specimen = places.specimens.find(
            (p: { name: string; study_id: number }) => p.study_id === study && p.name === `Filler ${s + 1}`,
          ).id;
          const mounts = places.mounts.filter((p: { specimen_id: number }) => p.specimen_id === specimen);
          mount = mounts[mounts.length - 1].id;
          rig = places.rigs.find((p: { name: string }) => p.name === `Bench ${of.specimens}`).id;
        }
      }
    }
  }
  return study;
}
