import { Minus, Plus } from 'lucide-react';
import { useState } from 'react';
import type { Span } from '#core/signal/trace/types';
import { write, writeSigned } from '#core/text/words';
import type { JudgementView } from '#features/run/server/judge';
import type { WindowAnswer } from '#features/run/view/window.worker';
import { Tick } from '#ui/Form.tsx';
import { type StageBand, TraceChart } from '#ui/TraceChart.tsx';
import { JudgePanel } from './JudgePanel.tsx';
import { type OtherRun, useBeside } from './useBeside';
import { useJudgement } from './useJudgement';
import { useRange } from './useRange';
import { useTrace } from './useTrace';
import { useWindowAnswer } from './useWindowAnswer';
import { WindowHandles } from './WindowHandles.tsx';

interface RunDeskProps {
  runId: number;
  title: string;
  stages: StageBand[];
  duration_s: number;
  /** s between samples */
  period_s: number;
  /** steadiest slope that is allowed, K/min */
  slope_limit: number;
  /** step of the sensors, K; null where it is not known */
  resolution: number | null;
  judgement: JudgementView;
  /** further runs of the study that can be laid beside */
  others: OtherRun[];
}

const STRIPS = ['ambient', 'coolant', 'power', 'fan', 'clock', 'noise'];

/** One run to be read and judged: its trace to zoom into, the window to drag, notes, and what is decided about it. */
export function RunDesk({ runId, title, stages, duration_s, period_s, slope_limit, resolution, judgement, others }: RunDeskProps) {
  const view = useRange(duration_s);
  const { lines, problem } = useTrace(runId, view.range);
  const desk = useJudgement(runId, judgement);
  const [hand, setHand] = useState<Span | null>(null);
  const [chosen, setChosen] = useState<number[]>([]);
  const load = stages.find((s) => s.stage === 'sustained') ?? null;
  const loadStart = stages.find((s) => s.stage === 'boost' || s.stage === 'sustained')?.start_s ?? 0;
  const beside = useBeside(others, chosen, view.range, loadStart);
  const stored = desk.view.now.window;
  const window = hand ?? stored;
  const answer = useWindowAnswer(runId, window, slope_limit, resolution);
  const keys = (e: React.KeyboardEvent) => {
    if ((e.target as Element).closest('input, select, textarea')) return;
    if (e.key === '+') view.zoom(0.5);
    else if (e.key === '-') view.zoom(2);
    else if (e.key === '0') view.set(0, duration_s);
    else if (e.key === 'ArrowLeft') view.pan(-0.2);
    else if (e.key === 'ArrowRight') view.pan(0.2);
    else return;
    e.preventDefault();
  };
  const see = (from: number, to: number, room: number) => view.set(from - room * (to - from), to + room * (to - from));
  const button = 'quiet px-2.5';
  return (
    <div>
      <div className="mb-2 flex flex-wrap items-center gap-2">
        <button type="button" className={button} onClick={() => view.zoom(0.5)} aria-label="Closer">
          <Plus size={16} aria-hidden="true" />
        </button>
        <button type="button" className={button} onClick={() => view.zoom(2)} disabled={!view.zoomed} aria-label="Wider">
          <Minus size={16} aria-hidden="true" />
        </button>
        <button type="button" className={button} onClick={() => view.set(0, duration_s)} disabled={!view.zoomed}>
          Whole run
        </button>
        {load && (
          <button type="button" className={button} onClick={() => see(load.start_s, load.end_s, 0.03)}>
            Load
          </button>
        )}
        {window && (
          <button type="button" className={button} onClick={() => see(window.start_s, window.end_s, 1)}>
            Window
          </button>
        )}
        {others.length > 0 && (
          <details className="relative ml-auto">
            <summary className="quiet cursor-pointer">Lay beside{chosen.length > 0 && ` (${chosen.length})`}</summary>
            <div className="absolute right-0 z-20 max-h-80 w-80 overflow-auto border border-soft bg-leaf p-3">
              {others.map((o) => (
                <Tick
                  key={o.id}
                  words={o.name}
                  disabled={!chosen.includes(o.id) && chosen.length >= 6}
                  checked={chosen.includes(o.id)}
                  onChange={(on) => setChosen(on ? [...chosen, o.id] : chosen.filter((c) => c !== o.id))}
                />
              ))}
            </div>
          </details>
        )}
      </div>
      {problem && <p className="mb-2 border-l-4 border-ember pl-4">{problem} The trace is fetched again in a moment.</p>}
      <section
        ref={view.plot}
        className="touch-pan-y"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the plot is moved by keys
        tabIndex={0}
        aria-label="Trace: plus and minus zoom, arrow keys move, 0 shows the whole run"
        onKeyDown={keys}
      >
        {lines ? (
          <TraceChart
            title={title}
            lines={lines}
            stages={stages}
            window={stored}
            duration_s={duration_s}
            range={view.range}
            beside={beside}
            strips={STRIPS}
          >
            <Pins notes={desk.view.notes} range={view.range} />
            {window && load && (
              <WindowHandles
                window={window}
                bounds={load}
                range={view.range}
                moved={hand !== null}
                step={Math.max(1, period_s)}
                onChange={setHand}
              />
            )}
          </TraceChart>
        ) : (
          <p className="grid h-[640px] place-items-center text-soft">Fetching the trace…</p>
        )}
      </section>
      {window && answer && <WindowLine window={window} hand={hand} answer={answer} />}
      <JudgePanel desk={desk} hand={hand} onHand={setHand} duration_s={duration_s} />
    </div>
  );
}

/** Notes as flags at their times. */
const Pins = ({ notes, range: [from, to] }: { notes: JudgementView['notes']; range: [number, number] }) => (
  <div className="pointer-events-none absolute inset-0 overflow-hidden">
    {notes
      .filter((n) => n.at_s >= from && n.at_s <= to)
      .map((n) => (
        <span
          key={n.id}
          className="absolute inset-y-0 border-l-2 border-dotted border-ink"
          style={{ left: `${(100 * (n.at_s - from)) / (to - from)}%` }}
        >
          <span className="absolute top-8 left-0 max-w-48 truncate bg-ink px-1.5 text-note text-paper">{n.text}</span>
        </span>
      ))}
  </div>
);

/** What the window says. */
const WindowLine = ({ window, hand, answer }: { window: Span; hand: Span | null; answer: WindowAnswer }) => (
  <p className="mt-1 flex flex-wrap items-baseline gap-x-4 border-b border-rule pb-2" data-testid="window">
    <span>
      Window {write(window.start_s, 0)} to {write(window.end_s, 0)} s{hand ? ', not kept yet' : ''}
    </span>
    <span>
      <span className="figure text-name font-semibold">{write(answer.mean, 2)} K</span>{' '}
      <span className="figure text-soft">
        (95 % {write(answer.low, 2)} to {write(answer.high, 2)})
      </span>
    </span>
    <span className={answer.steady ? '' : 'font-semibold text-ember'}>
      {answer.steady ? 'steady' : 'not steady'}: slope{' '}
      <span className="figure">
        {writeSigned(answer.slope, 3)} ± {write(answer.reach, 3)} K/min
      </span>
    </span>
  </p>
);
