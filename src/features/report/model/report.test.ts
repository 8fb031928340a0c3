import { describe, expect, it } from 'vitest';
import { studyChoice } from '#features/results/model/choice';
import type { RunFact } from '#features/results/model/facts';
import { answerResults } from '#features/results/model/resultsAnswer';
import { runFact, studyFacts } from '../../../../tests/studyFacts';
import { reportChanges } from './changes';
import type { ReportContent } from './content';
import { reportAsMarkdown } from './markdown';
import { methodLines } from './method';
import { publishingView } from './publishing';
import { completeSections, REPORT_SECTION_KEYS } from './reportSections';
import { reportTables, tableAsHtml, tableAsMarkdown } from './tables';

const run = (specimen: string, mount: number, rise: number, mount_reason: string | null = null): RunFact => ({
  ...runFact(specimen, mount, rise, { run_id: mount, day: null, power_w: null, mount_reason }),
  values: { rise },
});
const runs = [run('R', 1, 41), run('R', 2, 41.3), run('R', 3, 41.1), run('A|<b>', 1, 39), run('A|<b>', 2, 39.2), run('A|<b>', 3, 39.1)];

function contentOf(given: RunFact[], more: Partial<ReportContent> = {}): ReportContent {
  const facts = studyFacts(given, { title: 'Two', reference: 'R' });
  const answer = answerResults(facts, studyChoice(facts));
  return {
    ...{
      format: 1,
      title: 'Two <pastes>',
      question: 'Which?',
      made_at: '2026-11-26T10:00:00Z',
      reference: 'R',
      confidence: 0.95,
      look: '',
      answer,
    },
    sections: REPORT_SECTION_KEYS.map((key) => ({ key, words: key === 'held' ? 'All else.' : '' })),
    ...{
      held: [{ what: 'Load', value: '140 W', tolerance: '± 1 %' }],
      specimens: [],
      mounts: answer.figures,
      interactions: [],
      before_after: [],
      worth: [],
    },
    ...{ currency: null, budget: null, drift: null, recommendations: [{ reader: 'All', words: 'Take A.', checks: [] }] },
    findings: {
      ...{ comparison: [], mounts: [], runs: [] },
      left_out: given.flatMap((r) =>
        r.mount_reason ? [{ specimen: r.specimen, mount: r.mount, run: null, reason: r.mount_reason, who: 'EB', at: null }] : [],
      ),
    },
    runs: given.map((r) => ({
      ...{
        specimen: r.specimen,
        mount: r.mount,
        run: r.run,
        day: null,
        rig: r.rig,
        load: null,
        rise_k: r.values.rise ?? null,
        r_k_per_w: null,
        valid: true,
        reason: '',
      },
    })),
    method: [{ what: 'Confidence', value: '0.95' }],
    ...more,
  };
}

describe('a report as Markdown', () => {
  const text = reportAsMarkdown(contentOf(runs));
  it('has its sections with words, sentences and tables in their order', () => {
    expect(text).toMatch(
      /^# Two &lt;pastes>\n\n## The question\n\nWhich\?\n\n## The answer\n\n\*\*A\|&lt;b> runs 2\.0 K cooler than R\*\*/,
    );
    expect(text).toContain('## Recommendation\n\n**All:** Take A.');
    expect(text).toContain('## Controlled conditions\n\nAll else.\n\n- Load: 140 W, ± 1 %');
    expect(text.indexOf('## Verdicts')).toBeLessThan(text.indexOf('## Method as used'));
    // a section without anything to say is not there
    expect(text).not.toContain('## Before and after');
  });
});

describe('tables of a report', () => {
  const tables = reportTables(contentOf(runs));
  const pairs = tables.find((t) => t.key === 'pairs') ?? tables[0];
  it('keep full precision', () => {
    expect(pairs.rows[0][2]).toBeCloseTo(2.0333333333, 9);
    expect(tables.find((t) => t.key === 'mounts')?.rows).toHaveLength(6);
  });
  it('escape what their format would take for its own', () => {
    expect(tableAsMarkdown(pairs)).toContain('| R | A\\|&lt;b> | 2.033333 |');
    expect(tableAsHtml(pairs)).toContain('<td>A|&lt;b&gt;</td>');
  });
});

describe('what changed between two versions', () => {
  const before = contentOf(runs);
  it('is nothing but the date where nothing did', () => {
    expect(reportChanges(before, contentOf(runs, { made_at: '2026-12-01T00:00:00Z' }))).toEqual(['Nothing changed but the date.']);
    const part = { materials: ['A', 'B'], pairs: [], measured: [], setups: 4, mounts: 20 };
    expect(reportChanges(before, contentOf(runs, { part }))).toEqual(['The answer for other parts rests on 4 set-ups and 20 mounts now.']);
    expect(reportChanges(contentOf(runs, { part }), contentOf(runs, { part: null }))).toEqual([
      'The answer for other parts is gone: the ranking says too little now.',
    ]);
  });
  it('names runs, exclusions, verdicts, settings and words', () => {
    const after = contentOf([...runs.slice(0, 5), { ...runs[5], values: { rise: 47 } }, run('A|<b>', 4, 39, 'tilted')], {
      title: 'Two pastes',
      method: [{ what: 'Confidence', value: '0.99' }],
      sections: [],
    });
    const said = reportChanges(before, after);
    expect(said).toContain('The title was "Two <pastes>".');
    expect(said).toContain('1 run was added.');
    expect(said).toContain('1 run has another value.');
    expect(said).toContain('A|<b> mount 4 was left out.');
    expect(said).toContain('Confidence: 0.95 became 0.99.');
    const held = (value: string | null) => contentOf(runs, { method: value === null ? [] : [{ what: 'Fan / rpm', value }] });
    expect(reportChanges(held(null), held('1200'))).toEqual(['Fan / rpm: not used became 1200.']);
    expect(reportChanges(held('1200'), held(null))).toEqual(['Fan / rpm: 1200 became not used.']);
    // versions of before listed what was not used
    expect(reportChanges(held('not held'), held(null))).toEqual(['Nothing changed but the date.']);
    expect(said).toContain('Sections or words were changed.');
    expect(said.find((s) => s.startsWith('Verdict:'))).toMatch(/"A\|<b> runs 2\.0 K cooler than R .*" became ".*not distinguishable/);
    expect(reportChanges(after, before)).toContain('A|<b> mount 4 was included again.');
  });
});

describe('publishing', () => {
  const specimens = ['R', 'A|<b>', 'Tarn'].map((name, position) => ({
    name,
    position,
    kind: 'Paste',
    unit: '',
    planned: 3,
    tries: 3,
    failed: 0,
  }));
  it('says what is frozen, and nothing against it where all is done', () => {
    const { freezes, claim, warnings } = publishingView(contentOf(runs, { specimens: specimens.slice(0, 2) }));
    expect(freezes).toBe('6 runs on 6 mounts of 2 specimens');
    expect(claim).toMatch(/^A\|<b> runs 2\.0 K cooler than R \(95 %/);
    expect(warnings).toEqual([]);
  });
  it('warns of what is unmeasured, undecided, not made, mounted once, open or out of step', () => {
    const given = [
      ...runs.slice(0, 3),
      { ...run('A|<b>', 1, 40.2), undecided: [] },
      { ...run('A|<b>', 2, 40.1), valid: false, undecided: ['heat_soaked'] },
    ];
    const { warnings } = publishingView(
      contentOf(given, {
        specimens,
        look: 'This is the first of two looks.',
        recommendations: [{ reader: 'All', words: 'Take A.', checks: [{ a: 'A', b: 'R', state: 'changed' } as never] }],
      }),
    );
    expect(warnings).toEqual([
      '1 run needs your decision and is out of all means.',
      'Tarn has no valid value yet.',
      'Planned and not made: 1 mount of A|<b>.',
      'A|<b> was mounted once: its repeatability is assumed, not measured.',
      expect.stringMatching(/^1 verdict depends on the method/),
      'The verdict under the recommendation for All has changed since its words were written.',
      'This is the first of two looks.',
    ]);
  });
});

describe('sections and method', () => {
  it('are completed, each once, unknown ones dropped', () => {
    const given = [
      { key: 'method' as const, shown: false, words: 'x' },
      { key: 'method' as const, shown: true, words: 'again' },
      { key: 'rumours' as never, shown: true, words: '' },
    ];
    const all = completeSections(given);
    expect(all.map((s) => s.key)).toEqual(['method', ...REPORT_SECTION_KEYS.filter((k) => k !== 'method')]);
    expect(all[0]).toEqual(given[0]);
  });
  it('name what stands by default, in words', () => {
    const lines = new Map(methodLines({ scatter: 'pooled', margin_k: 0.5 }, { window_s: 60 }).map((l) => [l.what, l.value]));
    expect(lines.get('Scatter')).toBe('One for all');
    expect(lines.get('Adjust for')).toBe('Nothing (by default)');
    expect(lines.get('Smallest difference that matters / K')).toBe('0.5');
    expect(lines.get('Averaging window / s')).toBe('60');
    expect(lines.has('Fan set-point / rpm')).toBe(false);
    expect([...lines.values()].some((v) => /not set|not held|undefined/.test(v))).toBe(false);
    const held = new Map(methodLines({}, { power_w: 180.0225, fan_rpm: 1200.4 }).map((l) => [l.what, l.value]));
    expect(held.get('Power set-point / W')).toBe('180');
    expect(held.get('Fan set-point / rpm')).toBe('1200');
  });
});

describe('parts with limits of their own', () => {
  const part_rooms = {
    ...{ room_c: 35, parts: ['Memory', 'Regulator'] },
    specimens: [{ name: 'R', position: 0, mounts: 3, rooms: [10, null], decides: 'Memory' }],
    sentences: ['R: Memory decides, 10.0 K below its limit in a room of 35 °C.'],
  };
  it('have a section with their sentences and table, and none where the plan states none', () => {
    const text = reportAsMarkdown(contentOf(runs, { part_rooms }));
    expect(text).toContain('## Parts and their limits\n\n- R: Memory decides, 10.0 K below its limit');
    expect(text).toContain('| R | 10 |  | Memory | 3 |');
    expect(reportAsMarkdown(contentOf(runs))).not.toContain('Parts and their limits');
  });
  it('tell the sensor that no log has, whether or not any part could be told', () => {
    const limits_unread = 'No run has the sensor "Foo" that the plan gives a limit; the logs name Die 1.';
    expect(reportAsMarkdown(contentOf(runs, { limits_unread }))).toContain(`## Parts and their limits\n\n${limits_unread}`);
    expect(reportAsMarkdown(contentOf(runs, { part_rooms, limits_unread }))).toContain(`${limits_unread}\n\n- R: Memory decides`);
  });
  it('are a table like the others', () => {
    const table = reportTables(contentOf(runs, { part_rooms })).find((t) => t.key === 'limits');
    expect(table?.columns).toEqual(['Specimen', 'Memory / K', 'Regulator / K', 'Decides', 'Mounts']);
  });
});
