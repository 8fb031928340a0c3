import { OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';
import { write } from '#core/text/words';
import { studyCost } from '#features/study/model/cost';
import { comparedNoun } from '#features/study/model/factors';
import type { PlannedOutcome } from '#features/study/model/outcomes';
import type { PlanAnswer } from '#features/study/model/planAnswer';
import { PLAN_DEFAULTS } from '#features/study/model/planDefaults';
import { sectionLines } from '#features/study/model/planWords';
import type { HeldItem, PlanKey } from '#features/study/model/studyPlan';
import type { FieldSpec } from '#rules/fields';
import { Options } from '#ui/Form.tsx';
import { Section } from '#ui/Words.tsx';
import { CostPanel } from './CostPanel.tsx';
import { ExpectedTable } from './ExpectedTable.tsx';
import { HeadroomPanel } from './HeadroomPanel.tsx';
import { InterimPanel } from './InterimPanel.tsx';
import { ItemCell, ItemList, toNumber } from './ItemList.tsx';
import { LoadList } from './LoadList.tsx';
import { PlanField } from './PlanField.tsx';
import { PlanSection } from './PlanSection.tsx';
import { RehearsalPanel } from './RehearsalPanel.tsx';
import type { PlanDesk } from './usePlan';

/** All of the plan that has a default, in sections that tell their state: how it is measured, how it is judged, what it needs. */
export function SetUp({ desk, answer }: { desk: PlanDesk; answer: PlanAnswer }) {
  const { plan, resolved } = desk;
  const lines = sectionLines(resolved, plan);
  const noun = comparedNoun(resolved.said);
  const cost = studyCost(resolved, resolved.said.mounts);
  return (
    <>
      <Section id="measurement" title="Measurement" heading="mb-2 text-title" className="mt-8">
        <PlanSection id="conditions" title="Controlled conditions" state={lines.conditions}>
          <ConditionList desk={desk} />
        </PlanSection>
        <PlanSection id="loads" title="Loads" state={lines.loads}>
          <LoadList desk={desk} />
        </PlanSection>
        <PlanSection id="outcomes" title="Outcomes" state={lines.outcomes}>
          <OutcomeList desk={desk} />
        </PlanSection>
        <PlanSection id="methods" title="Methods" state={saidOf(desk, 'Method') ?? 'all at their default'}>
          <Fields desk={desk} group="Method" />
        </PlanSection>
        {isAboutSound(desk) && (
          <PlanSection id="sound" title="Sound" state={saidOf(desk, 'Sound') ?? 'background noise, distance and room not stated'}>
            <Fields desk={desk} group="Sound" />
          </PlanSection>
        )}
        {plan.varies === 'cooler' && (
          <PlanSection id="fit" title="Fit" state={lines.fit}>
            <Fields desk={desk} group="Fit" />
          </PlanSection>
        )}
        <PlanSection id="limits" title="Limits of single parts" state={lines.limits}>
          <div className="grid gap-x-6 gap-y-4 sm:grid-cols-2">
            <PlanField desk={desk} field="part_limits" />
            <PlanField desk={desk} field="limits_room_c" />
          </div>
          <p className="mt-2 max-w-[50rem] text-note text-soft">
            For drives, memory and regulators under one heatsink: the part nearest to its own limit decides, not the hottest one. Limits
            come from data sheets.
          </p>
        </PlanSection>
        <PlanSection id="ageing" title="Ageing" state={lines.ageing}>
          <PlanField desk={desk} field="ages" />
        </PlanSection>
        <PlanSection id="acceptance" title="Acceptance" state={saidOf(desk, 'Acceptance') ?? 'no limit stated'}>
          <Fields desk={desk} group="Acceptance" />
        </PlanSection>
      </Section>
      <Section id="statistics" title="Statistics" heading="mb-2 text-title" className="mt-8">
        <PlanSection id="power" title="Power and scatter" state={lines.power}>
          <PowerFields desk={desk} />
        </PlanSection>
        <PlanSection id="expected" title={`Expected of each ${noun}`} state={lines.expected}>
          <ExpectedTable desk={desk} />
        </PlanSection>
        <PlanSection id="rehearsal" title="Rehearsal" state={lines.rehearsal}>
          <RehearsalPanel desk={desk} />
        </PlanSection>
        <PlanSection id="interim" title="Interim analyses" state={interimLine(answer, lines.interim)}>
          <InterimPanel desk={desk} levels={answer.looks} state={answer.settled} />
        </PlanSection>
      </Section>
      <Section id="limits-and-cost" title="Limit and cost" heading="mb-2 text-title" className="mt-8">
        <PlanSection id="headroom" title="Headroom" state={lines.headroom}>
          <HeadroomPanel desk={desk} />
        </PlanSection>
        <PlanSection
          id="cost"
          title="Cost"
          state={
            cost.total > 0
              ? `${write(cost.total, 2)} ${cost.currency ?? ''}, ${write(cost.hands_h, 1)} h hands on`
              : 'nothing is priced yet'
          }
        >
          <CostPanel desk={desk} />
        </PlanSection>
      </Section>
    </>
  );
}

const interimLine = ({ settled }: PlanAnswer, planned: string): string =>
  settled ? `${planned} · ${settled.settled.length} of ${settled.settled.length + settled.open.length} pairs settled so far` : planned;

/** What of a group was set otherwise than its default, in one line; null where nothing was. */
function saidOf({ fields, plan }: PlanDesk, group: string): string | null {
  const own = fields.plan.filter((f) => {
    const said = plan[f.key as PlanKey];
    return f.group === group && said != null && said !== '' && said !== (PLAN_DEFAULTS as Record<string, unknown>)[f.key];
  });
  const words = (f: FieldSpec) => {
    const said = String(plan[f.key as PlanKey]);
    return `${f.label}: ${f.choices?.[said] ?? said}${f.unit ? ` ${f.unit}` : ''}`;
  };
  return own.length > 0 ? own.map(words).join(' · ') : null;
}

const Fields = ({ desk, group }: { desk: PlanDesk; group: string }) => (
  <div className="grid gap-x-6 gap-y-4 sm:grid-cols-2 xl:grid-cols-3">
    {desk.fields.plan
      .filter((f) => f.group === group)
      .map((f) => (
        <PlanField key={f.key} desk={desk} field={f.key as PlanKey} />
      ))}
  </div>
);

/** What the curve is computed with. */
function PowerFields({ desk }: { desk: PlanDesk }) {
  const { comparison } = desk.resolved;
  const scatter = { desk, unit: comparison.unit };
  return (
    <div className="grid gap-x-6 gap-y-4 sm:grid-cols-2 xl:grid-cols-3">
      <PlanField desk={desk} field="power" />
      <PlanField desk={desk} field="confidence" />
      <PlanField desk={desk} field="family" />
      <PlanField {...scatter} field="mount_sd" label="Mount scatter" otherwise={write(comparison.mount_sd, 2)} />
      <PlanField {...scatter} field="run_sd" label="Run scatter" otherwise={write(comparison.run_sd, 2)} />
    </div>
  );
}

/** Is noise of account: coolers or fans are compared, or it is planned as an outcome? */
function isAboutSound({ resolved: { said } }: PlanDesk): boolean {
  const factors = [said.varies, said.second_factor];
  return (
    factors.includes('cooler') ||
    factors.includes('fan') ||
    (said.outcomes ?? []).some((o) => o.key === 'noise') ||
    said.fan_school === 'noise'
  );
}

/** What is the same for all that is compared. */
const ConditionList = ({ desk }: { desk: PlanDesk }) => (
  <ItemList<HeldItem>
    desk={desk}
    field="held"
    one="condition"
    fresh={() => ({ what: '' })}
    empty="Name everything that is the same for all: rig, load, clock, fan speed, screws and torque, room."
  >
    {(item, change) => (
      <div className="flex flex-wrap gap-3">
        <ItemCell label="What" wide value={item.what} onChange={(what) => change({ what })} />
        <ItemCell label="At" value={item.value} onChange={(v) => change({ value: v || null })} />
        <ItemCell label="Tolerance" value={item.tolerance} onChange={(v) => change({ tolerance: v || null })} />
      </div>
    )}
  </ItemList>
);

/** What is judged, each with its margin. */
const OutcomeList = ({ desk }: { desk: PlanDesk }) => (
  <ItemList<PlannedOutcome>
    desk={desk}
    field="outcomes"
    one="outcome"
    fresh={() => ({ key: 'r_k_per_w', margin: OUTCOMES.r_k_per_w.margin })}
    empty="ΔT over ambient only. Each further outcome has its own smallest difference that matters."
  >
    {(item, change) => (
      <div className="flex flex-wrap items-end gap-3">
        <label className="text-note">
          <span className="block text-soft">Outcome</span>
          <select
            className="field text-base"
            value={item.key}
            onChange={(e) => change({ key: e.target.value as OutcomeKey, margin: OUTCOMES[e.target.value as OutcomeKey].margin })}
          >
            <Options choices={Object.entries(OUTCOMES).map(([key, o]) => [key, o.name] as const)} />
          </select>
        </label>
        <ItemCell
          label={`Matters from / ${OUTCOMES[item.key].unit}`}
          number
          value={item.margin}
          onChange={(v) => change({ margin: toNumber(v) as number })}
        />
        <span className="pb-2 text-soft">{OUTCOMES[item.key].better} is better</span>
      </div>
    )}
  </ItemList>
);
