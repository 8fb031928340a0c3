import { useState } from 'react';
import { list } from '#core/text/words';
import { calendarDay } from '#core/units/calendarDay';
import { addressOf } from '#features/ranking/model/choiceAddress';
import type { SetupControl } from '#features/ranking/model/control';
import type { LabControl } from '#features/ranking/server/labControl';
import { ChoiceBox, Quiet } from '#ui/Form.tsx';
import { TimeChart } from './TimeChart.tsx';

/** Since when, where a level stepped and is steady at the new one. */
function settledWords(controls: SetupControl[]): string {
  const settled = controls.filter((c) => c.standing === 'settled');
  if (settled.length === 0) return '';
  return `, on ${list(settled.map((c) => `${c.name} since ${calendarDay(c.since_s, false)}`))}`;
}

/** Set-ups that are drawn before all are asked for: those with a finding, then those with the most mounts. */
const FIRST = 8;

/** The reference over the years, set-up by set-up: does the bench still read as it did? */
export function LabControlDesk({ lab }: { lab: LabControl }) {
  const { controls, reference, materials, choice, too_few } = lab;
  const [isWhole, setWhole] = useState(false);
  const moved = controls.filter((c) => c.standing === 'moved');
  return (
    <>
      <h1 className="max-w-4xl text-verdict leading-tight font-semibold">
        {controls.length === 0
          ? 'No reference has been measured twice yet.'
          : moved.length > 0
            ? `${list(moved.map((c) => c.name))}: the reference does not read as it did.`
            : `The bench reads as it did${settledWords(controls)}.`}
      </h1>
      <p className="mt-2 max-w-3xl text-name">
        Every mount of the reference on one set-up, over the years. What moves it moves every material measured there.
      </p>
      {reference && (
        <div className="mt-4 w-60">
          <ChoiceBox
            label="Reference"
            value={reference.key}
            choices={materials.map((m) => [m.key, m.name] as const)}
            onChange={(key) => window.location.assign(`/ranking/lab${addressOf({ ...choice, reference: key })}`)}
          />
        </div>
      )}
      {(isWhole ? controls : controls.slice(0, FIRST)).map((c) => (
        <section key={c.setup} className="section-rule mt-8" aria-label={c.name}>
          <h2 className="text-title font-semibold">{c.name}</h2>
          <p
            className={`mt-1 max-w-4xl ${c.standing === 'moved' ? 'font-semibold' : ''}`}
            role={c.standing === 'moved' ? 'note' : undefined}
          >
            {c.standing === 'moved' && (
              <span aria-hidden="true" className="text-ember">
                ▲{' '}
              </span>
            )}
            {c.sentence}
          </p>
          <ControlDrawing control={c} name={reference?.name ?? ''} />
        </section>
      ))}
      {!isWhole && controls.length > FIRST && (
        <Quiet className="mt-4" onClick={() => setWhole(true)}>
          Show all {controls.length} set-ups; {FIRST} are shown
        </Quiet>
      )}
      {too_few.length > 0 && (
        <p className="mt-6 text-soft">
          Fewer than two dated mounts of {reference?.name}: {list(too_few)}.
        </p>
      )}
      {controls.length === 0 && (
        <p className="mt-4">
          Use one reference in every study of a rig; from its second mount on it is charted here.{' '}
          <a href="/ranking/next">What to measure next</a>
        </p>
      )}
    </>
  );
}

function ControlDrawing({ control: c, name }: { control: SetupControl; name: string }) {
  const edges = [c.points[0].at_s, ...c.steps.map((s) => s.at_s), Number.POSITIVE_INFINITY];
  const levels = c.steps.length === 0 ? [c.chart.centre] : [c.steps[0].before, ...c.steps.map((s) => s.after)];
  return (
    <TimeChart
      title={`${name} on ${c.name} over the years`}
      name="R × area / mm²·K/W"
      points={c.points.map((p) => ({ at_s: p.at_s, value: p.value, words: p.study }))}
      levels={levels.map((value, i) => ({ from_s: edges[i], to_s: edges[i + 1], value }))}
      band={{ from_s: c.since_s, low: c.chart.lower, high: c.chart.upper }}
      marks={[
        ...c.steps.map((s) => ({ at_s: s.at_s, words: 'Step of the level', isStrong: true })),
        ...c.events.map((e) => ({ at_s: e.at_s, words: e.words, isStrong: false })),
      ]}
      note={`Marks: mounts. Line: level. Band: control limits (2.66 mean moving ranges of the mounts before the newest). Dashed: a calibration or an edit of the shelf (${c.events.length}; the table names them). Steps: circular binary segmentation, one in a hundred by chance.`}
      digits={1}
    />
  );
}
