import { Check } from 'lucide-react';
import { useState } from 'react';
import { write } from '#core/text/words';
import { flatness } from '#core/thermal/flatness/flatness';
import { readHeights } from '#core/thermal/flatness/readHeights';
import { RECORDS, type StepStates, TRY_ENDS } from '#features/mount/model/attempt';
import { failureWords } from '#features/mount/model/failure';
import { type RecordKey, STEP_NAMES, type StepKey } from '#features/mount/model/stepTypes';
import { WORK, type WorkKind } from '#features/mount/model/work';
import type { MountSheetView } from '#features/mount/server/mountSheet';
import { DeleteThing } from '#features/study/view/DeleteThing.tsx';
import { FindingList } from '#ui/FindingList.tsx';
import { Act, Alert, Tick } from '#ui/Form.tsx';
import { SpecimenMark } from '#ui/SpecimenMark.tsx';
import { Section } from '#ui/Words.tsx';
import { Faults } from './Faults.tsx';
import { MountEnd } from './MountEnd.tsx';
import { Openings } from './Openings.tsx';
import { Photographs } from './Photographs.tsx';
import { StartLive } from './StartLive.tsx';
import { StepCard } from './StepCard.tsx';
import { TryEnd } from './TryEnd.tsx';
import { type MountDesk, useMount } from './useMount';

/** What the sheet holds as it is worked on, and what follows from it. */
function useSheet({ initial }: { initial: MountSheetView }) {
  const desk = useMount(initial);
  const { mount, steps, current, past, amount } = desk.view;
  const [chosen, setChosen] = useState<StepKey | null>(null);
  const firstOpen = steps.find((s) => !current?.steps[s.key]?.done_at)?.key ?? null;
  const shown = steps.find((s) => s.key === (chosen ?? firstOpen)) ?? null;
  const faces = measuredFaces((current ?? past.at(-1))?.steps ?? {});
  const done = steps.filter((s) => current?.steps[s.key]?.done_at).length;
  return { mount, current, steps, shown, setChosen, done, desk, past, amount, faces };
}
type Sheet = ReturnType<typeof useSheet>;

/** Leads through one mount, step by step; it goes on where it was left, on any device. */
export function MountSheet(props: { initial: MountSheetView }) {
  const sheet = useSheet(props);
  const { mount, current, steps, shown, setChosen, done, desk, past, amount, faces } = sheet;
  return (
    <div className="mx-auto max-w-3xl pt-4">
      <div className="flex flex-wrap items-center gap-x-3">
        <SpecimenMark position={mount.position} size={7} hollow={mount.runs === 0} />
        <h1 className="text-title font-semibold">
          {mount.specimen}, mount {mount.number}
        </h1>
        <span className="text-soft">
          {mount.rig} ·{' '}
          <a href={`/studies/${mount.study_id}/mounts`} className="underline">
            {mount.study}
          </a>
          {current && ` · try ${current.number}${current.who ? `, ${current.who}` : ''}`}
        </span>
      </div>
      {current && (
        <>
          <StepList sheet={sheet} />
          <p className="sr-only" role="status">
            {done} of {steps.length} steps are done.
          </p>
          <Alert className="mt-3 text-name">{desk.told}</Alert>
          {shown ? (
            <StepCard key={`${current.number} ${shown.key}`} desk={desk} step={shown} onDone={() => setChosen(null)} />
          ) : (
            <div className="pt-5">
              <p className="text-verdict font-semibold">Every step is done.</p>
              <p className="mt-1 mb-4 text-soft">Its runs can begin: live, or by dropping their logs here or on any page.</p>
              <Act className="min-h-16 w-full text-name" disabled={desk.busy} onClick={() => void desk.end('ready')}>
                The mount is ready for its runs
              </Act>
            </div>
          )}
          <WorkPicker desk={desk} />
          <TryEnd
            outcome
            onEnd={async (failure) => {
              if (await desk.end(failure.outcome, failure)) setChosen(null);
            }}
            submit="Keep this try and begin another"
          />
        </>
      )}
      {!current && <MountEnd desk={desk} />}
      {!current && !mount.excluded_reason && desk.view.ladders.length > 0 && (
        <p className="mt-6">
          <a href={`/mounts/${mount.id}/ladder`} className="act min-h-16 w-full text-name">
            Climb the ladder
          </a>
        </p>
      )}
      {!current && !mount.excluded_reason && <StartLive mountId={mount.id} />}
      {amount && (
        <p className="mt-6 border-t border-rule pt-3">
          Applied: <span className="figure font-semibold">{write(amount.mass_mg, 0)} mg</span>
          {amount.volume_mm3 !== null && (
            <>
              , <span className="figure">{write(amount.volume_mm3 / 1000, 3)} ml</span>
            </>
          )}
          {amount.bond_line_um !== null && (
            <>
              , a mean bond line of <span className="figure">{write(amount.bond_line_um, 0)} µm</span> if all of it stays
            </>
          )}
          .
        </p>
      )}
      {faces.map(({ label, peak_to_valley_um, points }) => (
        <p key={label} className="mt-2">
          {label}: <span className="figure font-semibold">{write(peak_to_valley_um, 1)} µm</span> peak to valley over {points.length} points{' '}
          <a className="underline" href={`/tools/flatness?mount=${mount.id}`}>
            as a map
          </a>
        </p>
      ))}
      {desk.view.findings.length > 0 && (
        <Section id="findings" title="Findings of this mount" className="mt-8">
          <FindingList findings={desk.view.findings} />
        </Section>
      )}
      <Photographs desk={desk} />
      {(mount.runs > 0 || desk.view.openings.length > 0 || !current) && <Openings desk={desk} />}
      {(mount.runs > 0 || desk.view.faults.length > 0 || !current) && <Faults desk={desk} />}
      {past.length > 0 && <PastTries sheet={sheet} />}
    </div>
  );
}

/** How flat the faces are whose heights were written down. */
const measuredFaces = (steps: StepStates) =>
  (['heights', 'heights_after'] as const).flatMap((key) => {
    const text = Object.values(steps).flatMap((s) => s?.records?.[key] ?? [])[0];
    const face = typeof text === 'string' ? flatness(readHeights(text).readings) : null;
    return face ? [{ label: key === 'heights' ? 'Face' : 'Face after lapping', ...face }] : [];
  });

/** What was written down in a try, in one line. */
const recordWords = (steps: StepStates): string =>
  Object.values(steps)
    .flatMap((step) => Object.entries(step?.records ?? {}))
    .filter(([, value]) => value !== null && value !== '')
    .map(([key, value]) => {
      const { label, unit, choices, most } = RECORDS[key as RecordKey];
      if (most) return `${label}: ${String(value).trim().split('\n').length} lines`;
      return `${label} ${choices?.[String(value)] ?? value}${unit ? ` ${unit}` : ''}`;
    })
    .join(' · ');

/** What else is done to the machine in this try; each adds its steps. */
function WorkPicker({ desk }: { desk: MountDesk }) {
  const work = desk.view.current?.work ?? [];
  return (
    <details className="mt-6 border-t border-rule pt-2">
      <summary className="min-h-11 cursor-pointer py-2">
        Work on the machine itself{work.length > 0 && `: ${work.map((w) => WORK[w].toLowerCase()).join(', ')}`}
      </summary>
      <p className="text-note text-soft">Each adds its steps, in their place.</p>
      <div className="grid sm:grid-cols-2">
        {(Object.keys(WORK) as WorkKind[]).map((w) => (
          <Tick
            key={w}
            hand
            words={WORK[w]}
            checked={work.includes(w)}
            onChange={(on) => void desk.setWork(on ? [...work, w] : work.filter((v) => v !== w))}
          />
        ))}
      </div>
    </details>
  );
}

/** The steps in their order, the one at hand marked. */
const StepList = ({ sheet: { steps, current, shown, setChosen } }: { sheet: Sheet }) => (
  <ol
    aria-label="Steps of this mount"
    className="mt-3 grid grid-cols-[repeat(auto-fit,minmax(2.25rem,1fr))] gap-1 sm:grid-cols-[repeat(auto-fit,minmax(5.5rem,1fr))]"
  >
    {steps.map((s) => {
      const isDone = Boolean(current?.steps[s.key]?.done_at);
      const isShown = s.key === shown?.key;
      return (
        <li key={s.key} className="min-w-0">
          <button
            type="button"
            onClick={() => setChosen(s.key)}
            aria-current={isShown ? 'step' : undefined}
            aria-label={`${STEP_NAMES[s.key]}${isDone ? ', done' : ''}`}
            className={`flex h-11 w-full items-center justify-center border-b-4 text-note hover:bg-band ${isShown ? 'border-ember font-semibold' : isDone ? 'border-ink' : 'border-rule'}`}
          >
            {isDone ? <Check size={18} aria-hidden="true" /> : <span className="truncate max-sm:hidden">{STEP_NAMES[s.key]}</span>}
            {!isDone && <span className="sm:hidden">{steps.indexOf(s) + 1}</span>}
          </button>
        </li>
      );
    })}
  </ol>
);

/** The tries that were ended, with their reasons. */
const PastTries = ({ sheet: { past } }: { sheet: Sheet }) => (
  <Section id="tries" title="Tries" className="mt-8">
    <ul>
      {past.map((a) => (
        <li key={a.id} className="border-b border-rule py-2">
          <span className={`font-semibold ${a.outcome === 'ready' ? '' : 'text-ember'}`}>
            {a.number}: {TRY_ENDS[a.outcome ?? 'ready']}
          </span>
          {a.who && <span className="text-soft"> · {a.who}</span>}
          {(a.cause || a.reason) && <div>{a.cause ? failureWords(a.cause, a.reason) : a.reason}</div>}
          <div className="text-soft">{recordWords(a.steps)}</div>
          <DeleteThing kind="try" id={a.id} words={`Delete try ${a.number} …`} />
        </li>
      ))}
    </ul>
  </Section>
);
