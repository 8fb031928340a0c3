import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { planFields } from '#features/study/model/planFields';
import { sectionOf } from './sections';

const here = new URL('.', import.meta.url).pathname;
const drawn = readdirSync(here)
  .filter((f) => f.endsWith('.tsx'))
  .flatMap((f) => [...readFileSync(here + f, 'utf8').matchAll(/<(?:PlanSection|Section|h2)\s+id="([\w-]+)"/g)].map((m) => m[1]));

describe('where a field of the plan is set', () => {
  const fields = planFields();
  it('is a section that the plan draws, for every field it has', () => {
    const asked = [...fields.plan.map((f) => f.key), 'held', 'loads', 'outcomes', 'looks', 'start_time', 'weekdays', 'order', 'specimens'];
    for (const key of asked) expect(drawn, key).toContain(sectionOf(key, fields));
    expect(sectionOf('specimen:7:rise_k', fields)).toBe('expected');
    expect(sectionOf('nothing', fields)).toBeNull();
  });
});
