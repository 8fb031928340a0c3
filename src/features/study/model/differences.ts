import type { PlanFinding } from '#core/design/types';
import { list, plural } from '#core/text/words';
import { FACTORS } from './factors';
import type { ResolvedPlan, ResolvedSpecimen } from './resolve';

type Factor = keyof typeof FACTORS;

/** What is known to differ between specimens, by the factor it belongs to. */
const traits = (s: ResolvedSpecimen): { factor: Factor | 'unit' | 'besides'; words: string; value: string }[] => [
  { factor: 'material', words: 'the material', value: s.material?.name ?? '' },
  { factor: 'cooler', words: 'the cooler', value: s.cooler?.name ?? '' },
  { factor: 'unit', words: 'the unit', value: s.unit },
  { factor: 'besides', words: s.plan.differs ?? '', value: s.plan.differs ?? '' },
];

/** Findings of the design: the wrong number of specimens for it, and what differs besides the factor. */
export function designFindings(plan: ResolvedPlan): PlanFinding[] {
  const { design } = plan.said;
  return [...(design === 'two_by_two' ? twoByTwo(plan) : []), ...(design === 'before_after' ? beforeAfter(plan) : []), ...confounded(plan)];
}

function twoByTwo({ specimens, said }: ResolvedPlan): PlanFinding[] {
  const levels = (key: 'level_a' | 'level_b') => [...new Set(specimens.map((s) => s.plan[key]?.trim() ?? '').filter(Boolean))];
  const a = levels('level_a');
  const b = levels('level_b');
  const cells = new Set(specimens.map((s) => `${s.plan.level_a?.trim() ?? ''}\n${s.plan.level_b?.trim() ?? ''}`));
  const findings: PlanFinding[] = [];
  if (!said.second_factor) {
    findings.push({
      code: 'second_factor_open',
      severity: 'warn',
      field: 'second_factor',
      message: 'A 2 × 2 varies two factors; the second is not named.',
    });
  }
  const missing =
    a.length === 2 && b.length === 2 ? a.flatMap((x) => b.filter((y) => !cells.has(`${x}\n${y}`)).map((y) => `${x} with ${y}`)) : [];
  if (specimens.length !== 4 || a.length !== 2 || b.length !== 2 || cells.size !== 4) {
    findings.push({
      code: 'not_two_by_two',
      severity: 'reject',
      field: 'design',
      message: `A 2 × 2 has four specimens, each pair of levels once; here are ${specimens.length} with ${plural(a.length, 'level')} of the first factor and ${b.length} of the second.`,
      nearest: missing.length > 0 ? `Add ${list(missing)}.` : 'Give each of four specimens its two levels, or declare one factor.',
    });
  }
  return findings;
}

function beforeAfter({ specimens }: ResolvedPlan): PlanFinding[] {
  const findings: PlanFinding[] = [];
  if (specimens.length !== 2) {
    findings.push({
      code: 'not_before_after',
      severity: 'reject',
      field: 'design',
      message: `Before and after are two states; this study has ${plural(specimens.length, 'specimen')}.`,
      nearest: 'Two specimens, one for each state, or one factor with several levels.',
    });
  }
  const units = [...new Set(specimens.map((s) => s.unit))];
  if (units.length > 1) {
    findings.push({
      code: 'unit_and_state_confounded',
      severity: 'reject',
      field: 'specimens',
      message: `Before and after are measured on different units (${list(specimens.map((s) => `${s.name}: ${s.unit || 'the rig’s own'}`))}); the effect of the change cannot be separated from the difference between the units.`,
      nearest: 'Measure both states on one unit.',
    });
  }
  return findings;
}

function confounded(plan: ResolvedPlan): PlanFinding[] {
  const { said, specimens, reference } = plan;
  if (!reference || specimens.length < 2) return [];
  const declared = new Set<string>([said.varies, ...(said.design === 'two_by_two' && said.second_factor ? [said.second_factor] : [])]);
  // a change of state may change material or cooler with it: that is the state
  if (declared.has('state')) for (const f of ['material', 'cooler']) declared.add(f);
  if (declared.has('fan')) declared.add('cooler');
  return specimens
    .filter((s) => s !== reference)
    .flatMap((s): PlanFinding[] => {
      const besides = traits(s).filter((t, i) => {
        if (declared.has(t.factor)) return false;
        if (t.factor === 'besides') return t.value !== '';
        if (t.factor === 'unit' && said.design === 'before_after') return false;
        return t.value !== traits(reference)[i].value;
      });
      if (besides.length === 0) return [];
      return [
        {
          code: 'differs_besides',
          severity: 'warn',
          field: 'specimens',
          message: `${s.name} and ${reference.name} differ in ${list(besides.map((t) => t.words))} besides ${FACTORS[said.varies].toLowerCase()}; a difference cannot be attributed to one of them.`,
          nearest: `Make them the same, or plan a 2 × 2 of both factors.`,
        },
      ];
    });
}
