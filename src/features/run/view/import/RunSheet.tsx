import { useEffect, useMemo, useRef, useState } from 'react';
import type { LogOptions } from '#core/signal/logs/types';
import type { RunPlace } from '#features/run/model/importPlan';
import { decisionsOf, isDecided, type Layout } from '#features/run/model/layout';
import type { LayoutView } from '#features/run/server/layouts';
import { describeResults } from '#features/run/view/describeResults';
import { Quiet, Tick } from '#ui/Form.tsx';
import { ClockPanel } from './ClockPanel.tsx';
import { hashOf, type KnownRun, knownRun } from './knownRun';
import { PlaceForm } from './PlaceForm.tsx';
import type { PreviewResults } from './preview.worker';
import { ReadingPanel } from './ReadingPanel.tsx';
import { type ImportContext, pathOf, type RunChoices, reductionFor } from './types';
import { beganAt } from './useBatch';
import { headersOf, layoutFor, useLayouts } from './useLayouts';
import { usePlaces } from './usePlaces';
import { usePreview, useResults } from './usePreview';
import { useStore } from './useStore';
import { ValuePanel } from './ValuePanel.tsx';

/** One run: what was understood of its files, its value, and where it belongs. */
export function RunSheet({ logs, results, context }: { logs: File[]; results: File[]; context: ImportContext }) {
  const [reading, setReading] = useState<LogOptions>({});
  const [offsets, setOffsets] = useState<Record<string, number>>({});
  const [confirmed, setConfirmed] = useState<string[]>([]);
  const [comparable, setComparable] = useState(true);
  const [choices, setChoices] = useState<RunChoices>({
    sensor: null,
    room_c: null,
    room_u_k: 0.5,
    limit_c: null,
    study_id: context.study_id ?? null,
    first: null,
    load: null,
  });
  const places = usePlaces(choices.study_id);
  const layouts = useLayouts();
  const [layoutId, setLayoutId] = useState<number | null>(null);
  const [remember, setRemember] = useState<string | null>(null);
  const importId = useRef(crypto.randomUUID());
  const study = places.data?.studies.find((s) => s.id === choices.study_id);
  const request = useMemo(() => {
    if (logs.length === 0) return null;
    const options = {
      ...reductionFor(study, choices.load),
      margin_k: study?.margin_k ?? 1,
      sensor: choices.sensor ?? study?.reduction.sensor ?? null,
      part_sensors: [...(reductionFor(study, choices.load).part_sensors ?? []), ...(choices.part_sensors ?? [])],
      ...{ room_c: choices.room_c, room_u_k: choices.room_u_k, limit_c: choices.limit_c, first: choices.first },
    };
    return { files: logs, reading, options, offsets };
  }, [logs, reading, choices, study, offsets]);
  const { preview, busy } = usePreview(request);
  const read = useResults(results);
  const known = useKnownRun(logs[0]);
  const store = useStore();
  const headers = headersOf(preview?.logs[0]);
  const layout = layoutFor(layouts, preview?.logs[0]);
  const decided = isDecided(reading, choices.sensor);

  // a layout is applied once, when its file comes; whatever a person changes afterwards stays
  const applied = useRef<File | null>(null);
  useEffect(() => {
    if (!layout || applied.current === logs[0] || decided) return;
    applied.current = logs[0];
    setLayoutId(layout.id);
    setReading(layout.reading as LogOptions);
    if (layout.sensor) setChoices((c) => ({ ...c, sensor: layout.sensor }));
  }, [layout, logs, decided]);

  const named = useMemo(
    () =>
      preview && logs[0] ? { name: logs[0].name, folder: pathOf(logs[0]).split('/').at(-2) ?? null, began: beganAt(preview) } : undefined,
    [preview, logs],
  );
  const byLoad = preview?.clocks.filter((c) => c.how === 'load' && !confirmed.includes(c.file)) ?? [];
  const ready = preview?.reduction != null && !busy && byLoad.length === 0 && read.every((r) => r.problem === null);
  const submit = async (place: RunPlace) => {
    if (remember && headers && !(await store.remember({ name: remember, headers, reading, sensor: choices.sensor }))) return;
    const plan = {
      ...{ import_id: importId.current, reading, place, offsets, comparable, layout_id: layoutId },
      sensor: choices.sensor,
      room_c: choices.room_c,
      room_u_k: choices.room_c === null ? null : choices.room_u_k,
    };
    const stored = await store.send(plan, logs, results);
    if (stored) window.location.assign(`/runs/${stored.run_id}`);
  };

  if (logs.length === 0) {
    return (
      <div className="px-4 pt-4 sm:px-9">
        <ResultsPanel results={read} comparable={comparable} onComparable={setComparable} />
        <p className="mt-4 max-w-2xl text-name">
          These are results of a benchmark program. Add the log of the run they belong to, or open a stored run and attach them there.
        </p>
      </div>
    );
  }
  return (
    <div className="grid flex-1 gap-10 px-4 pt-4 pb-12 sm:px-9 lg:grid-cols-[minmax(0,1fr)_430px]">
      <div className="flex min-w-0 flex-col gap-6">
        {layout && (
          <LayoutNote layout={layout} used={layoutId === layout.id} onUse={setLayoutId} onReading={setReading} onChoices={setChoices} />
        )}
        {preview && (preview.clocks.length > 0 || preview.asks === 'clock_offset') && (
          <ClockPanel
            preview={preview}
            files={logs.slice(1)}
            offsets={offsets}
            onOffsets={setOffsets}
            confirmed={confirmed}
            onConfirmed={setConfirmed}
          />
        )}
        <ReadingPanel preview={preview} reading={reading} onReading={setReading} choices={choices} onChoices={setChoices} />
        <ResultsPanel results={read} comparable={comparable} onComparable={setComparable} />
      </div>
      <div className="flex flex-col gap-6">
        <ValuePanel preview={preview} busy={busy} rise={reductionFor(study, choices.load).rise_wanted !== false} />
        <PlaceForm
          onChoices={setChoices}
          places={places}
          context={context}
          file={named}
          ready={ready && known === null}
          wait={byLoad.length > 0 ? 'once the clocks are confirmed' : known ? '' : 'once the files can be read'}
          store={store}
          onStore={submit}
        >
          {decided && headers && (!layout || layoutId !== layout.id || remember !== null) && (
            <Remember name={remember} suggestion={layout?.name ?? stem(logs[0].name)} onName={setRemember} />
          )}
          {known && (
            <p role="alert" className="border-l-4 border-ember pl-3">
              This file is already imported: it is <a href={`/runs/${known.run_id}`}>{known.run}</a>. A log counts once; if it is in the
              wrong place, open that run and move it.
            </p>
          )}
        </PlaceForm>
      </div>
    </div>
  );
}

/** Whether what was decided is remembered for files with the same headers. */
const Remember = ({ name, suggestion, onName }: { name: string | null; suggestion: string; onName: (name: string | null) => void }) => (
  <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
    <Tick words="Always read files with these headers this way" checked={name !== null} onChange={(on) => onName(on ? suggestion : null)} />
    {name !== null && (
      <input
        aria-label="Name of the log format"
        className="field min-w-0 flex-1"
        maxLength={120}
        value={name}
        onChange={(e) => onName(e.target.value)}
      />
    )}
  </div>
);

const stem = (name: string) => name.replace(/\.[^.]+$/, '').replace(/[\s_-]*\d+$/, '') || name;

/** The run that already rests on a file, if any. */
function useKnownRun(file: File | undefined): KnownRun | null {
  const [known, setKnown] = useState<KnownRun | null>(null);
  useEffect(() => {
    setKnown(null);
    if (!file) return;
    let current = true;
    void hashOf(file)
      .then(knownRun)
      .then((run) => current && setKnown(run));
    return () => {
      current = false;
    };
  }, [file]);
  return known;
}

interface ResultsPanelProps {
  results: PreviewResults[];
  comparable: boolean;
  onComparable: (comparable: boolean) => void;
}

/** What results files of benchmark programs say, and whether their scores may be compared. */
function ResultsPanel({ results, comparable, onComparable }: ResultsPanelProps) {
  if (results.length === 0) return null;
  return (
    <section aria-labelledby="results">
      <h3 id="results" className="text-name font-semibold">
        Results of a program
      </h3>
      <ul>
        {results.map((r) => (
          <li
            key={r.name}
            className={`border-b border-rule py-1.5 ${r.problem ? 'font-semibold text-ember' : ''}`}
            role={r.problem ? 'alert' : undefined}
          >
            {r.problem ?? `${r.name}: ${r.figures ? describeResults(r.figures) : ''}`}
          </li>
        ))}
      </ul>
      <Tick
        words="Another program was running, so the score is not comparable"
        className="mt-1"
        checked={!comparable}
        onChange={(on) => onComparable(!on)}
      />
    </section>
  );
}

interface LayoutNoteProps {
  layout: LayoutView;
  /** true while the files are read by it */
  used: boolean;
  onUse: (id: number | null) => void;
  onReading: (reading: LogOptions) => void;
  onChoices: (change: (c: RunChoices) => RunChoices) => void;
}

/** Says by which layout a file is read, and lets it be taken up or left. */
function LayoutNote({ layout, used, onUse, onReading, onChoices }: LayoutNoteProps) {
  const put = (reading: LogOptions, sensor: string | null, id: number | null) => {
    onUse(id);
    onReading(reading);
    onChoices((c) => ({ ...c, sensor }));
  };
  return (
    <p className="flex flex-wrap items-center gap-x-3 border-l-4 border-cool bg-leaf px-4 py-2">
      <span>
        {used ? 'Read by the log format' : 'There is a log format for files like this,'} <strong>{layout.name}</strong>
        {used ? `: ${decisionsOf(layout as unknown as Layout).join(', ')}.` : '.'}
      </span>
      {used ? (
        <Quiet onClick={() => put({}, null, null)}>Guess instead</Quiet>
      ) : (
        <Quiet onClick={() => put(layout.reading as LogOptions, layout.sensor, layout.id)}>Use the log format</Quiet>
      )}
      <a href="/layouts" className="underline decoration-soft">
        All log formats
      </a>
    </p>
  );
}
