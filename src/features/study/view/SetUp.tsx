import type { ReactNode } from 'react';
import { OUTCOMES, type OutcomeKey } from '#core/compare/outcomes';
import { loadMinutes } from '#features/study/model/loadFigures';
import type { PlannedOutcome } from '#features/study/model/outcomes';
import { PLAN_DEFAULTS } from '#features/study/model/planDefaults';
import type { HeldItem, PlanKey } from '#features/study/model/studyPlan';
import type { FieldSpec } from '#rules/fields';
import { Options } from '#ui/Form.tsx';
import { ItemCell, ItemList, toNumber } from './ItemList.tsx';
import { LoadList } from './LoadList.tsx';
import { PlanField } from './PlanField.tsx';
import type { PlanDesk } from './usePlan';

/** Question, what varies, what is held, loads, outcomes, schools and acceptance, each folded to one line of what it says. */
export function SetUp({ desk }: { desk: PlanDesk }) {
  const { plan, resolved, fields } = desk;
  const inGroup = (group: string) => fields.plan.filter((f) => f.group === group);
  const schools = inGroup('Schools');
  const own = schools.filter((f) => {
    const said = plan[f.key as PlanKey];
    return said != null && said !== (PLAN_DEFAULTS as Record<string, unknown>)[f.key];
  });
  const loads = resolved.said.loads ?? [];
  const limits = inGroup('Acceptance').filter((f) => plan[f.key as PlanKey] != null);
  const sound = inGroup('Sound').filter((f) => plan[f.key as PlanKey] != null);
  return (
    <div>
      <div className="grid gap-x-6 gap-y-3 pb-3 md:grid-cols-2 lg:grid-cols-4">
        <PlanField desk={desk} field="title" />
        <PlanField desk={desk} field="varies" />
        <PlanField desk={desk} field="design" />
        {resolved.said.design === 'two_by_two' && <PlanField desk={desk} field="second_factor" />}
        <div className="md:col-span-2 lg:col-span-4">
          <PlanField desk={desk} field="question" />
        </div>
      </div>
      <Part
        title="Held alike"
        says={
          plan.held?.length
            ? plan.held.map((h) => [h.what, h.value].filter(Boolean).join(' ')).join(' · ')
            : 'nothing named yet: rig, load, clock, fan, hardware, room'
        }
      >
        <HeldList desk={desk} />
      </Part>
      <Part
        title="Loads"
        says={
          loads.length > 0
            ? loads.map((l) => `${l.name || 'unnamed'}, ${Number(loadMinutes(l).toFixed(1))} min`).join(' · ')
            : 'none named: one run as stated under the order'
        }
      >
        <LoadList desk={desk} />
      </Part>
      <Part
        title="Outcomes"
        says={plan.outcomes?.length ? plan.outcomes.map((o) => OUTCOMES[o.key]?.name ?? o.key).join(' · ') : 'rise over ambient'}
      >
        <OutcomeList desk={desk} />
      </Part>
      <Part
        title="Schools"
        says={
          own.length > 0
            ? own.map((f) => `${f.label}: ${f.choices?.[String(plan[f.key as PlanKey])] ?? ''}`).join(' · ')
            : 'all at their default'
        }
      >
        <Fields desk={desk} fields={schools} />
      </Part>
      {isAboutSound(desk) && (
        <Part
          title="Sound"
          says={
            sound.length > 0
              ? sound.map((f) => `${f.label} ${plan[f.key as PlanKey]} ${f.unit ?? ''}`).join(' · ')
              : 'floor, distance and room not stated'
          }
        >
          <Fields desk={desk} fields={inGroup('Sound')} />
        </Part>
      )}
      {plan.varies === 'cooler' && (
        <Part
          title="Fit"
          says={
            plan.fit_height_mm ? `${plan.fit_enclosure || 'the enclosure'}: ${plan.fit_height_mm} mm above the part` : 'no enclosure stated'
          }
        >
          <Fields desk={desk} fields={inGroup('Fit')} />
        </Part>
      )}
      <Part
        title="Parts’ limits"
        says={
          plan.part_limits
            ? `${plan.part_limits}, in a room of ${plan.limits_room_c ?? PLAN_DEFAULTS.limits_room_c} °C`
            : 'one limit, that of the rig'
        }
      >
        <div className="grid gap-x-6 gap-y-4 sm:grid-cols-2">
          <PlanField desk={desk} field="part_limits" />
          <PlanField desk={desk} field="limits_room_c" />
        </div>
        <p className="mt-2 max-w-[50rem] text-note text-soft">
          For drives, memory and regulators under one heatsink: the part nearest to its own limit decides, not the hottest one. Limits come
          from data sheets.
        </p>
      </Part>
      <Part title="Ageing" says={plan.ages ? `each mount measured at ${plan.ages} days` : 'each mount measured once'}>
        <PlanField desk={desk} field="ages" />
      </Part>
      <Part
        title="Acceptance"
        says={limits.length > 0 ? limits.map((f) => `${f.label} ${plan[f.key as PlanKey]} ${f.unit ?? ''}`).join(' · ') : 'no limit stated'}
      >
        <Fields desk={desk} fields={inGroup('Acceptance')} />
      </Part>
    </div>
  );
}

const Fields = ({ desk, fields }: { desk: PlanDesk; fields: FieldSpec[] }) => (
  <div className="grid gap-x-6 gap-y-4 sm:grid-cols-2 xl:grid-cols-3">
    {fields.map((f) => (
      <PlanField key={f.key} desk={desk} field={f.key as PlanKey} />
    ))}
  </div>
);

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

const Part = ({ title, says, children }: { title: string; says: string; children: ReactNode }) => (
  <details className="group border-t border-rule">
    <summary className="flex cursor-pointer flex-wrap gap-x-4 py-2 hover:bg-band">
      <span className="w-32 font-semibold">
        <span aria-hidden="true" className="mr-2 inline-block transition-transform group-open:rotate-90">
          ▸
        </span>
        {title}
      </span>
      <span className="flex-1 text-soft">{says}</span>
    </summary>
    <div className="pt-1 pb-4 sm:pl-6">{children}</div>
  </details>
);

/** What is held alike. */
const HeldList = ({ desk }: { desk: PlanDesk }) => (
  <ItemList<HeldItem>
    desk={desk}
    field="held"
    one="a held thing"
    fresh={() => ({ what: '' })}
    empty="Everything but the factor is named and held."
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
    one="an outcome"
    fresh={() => ({ key: 'r_k_per_w', margin: OUTCOMES.r_k_per_w.margin })}
    empty="Rise over ambient alone. Further outcomes have each their own margin."
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
          label={`Margin / ${OUTCOMES[item.key].unit}`}
          number
          value={item.margin}
          onChange={(v) => change({ margin: toNumber(v) as number })}
        />
        <span className="pb-2 text-soft">{OUTCOMES[item.key].better} is better</span>
      </div>
    )}
  </ItemList>
);
