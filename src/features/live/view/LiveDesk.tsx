import { useEffect, useMemo, useState } from 'react';
import type { LiveTrace } from '#core/live/liveTrace';
import { type ChannelLine, downsample } from '#core/signal/trace/downsample';
import { write, writeSigned } from '#core/text/words';
import type { LiveView } from '#features/live/server/liveView';
import { LIVE_KINDS } from '#features/mount/model/liveKinds';
import { Act } from '#ui/Form.tsx';
import { SpecimenMark } from '#ui/SpecimenMark.tsx';
import { sendJson } from '#ui/send';
import { type StageBand, TraceChart } from '#ui/TraceChart.tsx';
import { CheckedLink, Figure } from '#ui/Words.tsx';
import { AlarmBanner } from './AlarmBanner.tsx';
import { LiveSide } from './LiveSide.tsx';
import { Preflight } from './Preflight.tsx';
import { StageTrack } from './StageTrack.tsx';
import { useLive } from './useLive';
import { between, STAGE_WORDS, span } from './words';

const COLUMNS = 360;
/** What is shown before a cycle's beginning, s. */
const BEFORE_S = 60;
const STRIPS = ['ambient', 'coolant', 'power', 'fan', 'clock', 'noise'];

/** A live run from pre-flight to its end: where it stands, when it will be steady, what is wrong, and its readings as they come. */
export function LiveDesk({ initial }: { initial: LiveView }) {
  const live = useLive(initial);
  const { view, trace, drawn, silent } = live;
  const { state, settings } = view;
  const [problem, setProblem] = useState<string | null>(null);
  const order = (body: Record<string, unknown>) => sendJson('POST', `/api/live/${view.id}/orders`, body, setProblem);
  const started = state.stage !== 'preflight';
  // the state is told far more often than the charts are worth drawing
  // biome-ignore lint/correctness/useExhaustiveDependencies: a new drawing is told by its number
  const chart = useMemo(() => <LiveChart view={view} trace={trace} drawn={drawn} />, [trace, drawn]);
  return (
    <div className="pt-3">
      <AlarmBanner
        alarms={view.alarms.map((a) => ({
          key: String(a.id),
          message: a.message,
          lasts: a.ended_at === null,
          seen: a.acknowledged_at !== null,
        }))}
        onSeen={() => order({ kind: 'acknowledge' })}
      >
        <p className="flex flex-wrap items-center gap-x-3 gap-y-1">
          <SpecimenMark position={view.specimen_position} size={8} />
          <span className="text-title font-semibold">
            {view.specimen}, mount {view.mount}
          </span>
          <span className="text-soft">
            {view.rig} · {settings.kind === 'limit_test' && `${LIVE_KINDS.limit_test.toLowerCase()}, `}
            {settings.kind === 'conditioning'
              ? `conditioning cycle ${state.cycle} of up to ${settings.cycles}`
              : `run ${state.cycle} of ${settings.cycles}`}{' '}
            ·{' '}
            <a href={`/studies/${view.study_id}/runs`} className="underline">
              {view.study}
            </a>
            {view.time_scale !== 1 && ` · simulated, ${write(view.time_scale, 0)} times as fast`}
          </span>
        </p>
      </AlarmBanner>
      {silent && (
        <p className="my-2 border-l-4 border-ember pl-4">
          The server does not answer. If it has ended, its load watch switches the load off within seconds; this page follows again as soon
          as it can.
        </p>
      )}
      {problem && <p className="my-2 border-l-4 border-ember pl-4">{problem}</p>}
      <Standing view={view} now={live.now} />
      {state.held && !view.over && (
        <div className="my-3 flex flex-wrap items-center justify-between gap-x-6 gap-y-3 border-l-4 border-ember pl-4">
          <p className="min-w-0 flex-1 basis-72">
            <span className="font-semibold">The load is off and stays off.</span> Look at the bench first: cooler seated, fan turning,
            nothing too hot. Then let the run go on, or stop it.
          </p>
          <Act className="min-h-11" onClick={() => order({ kind: 'resume' })}>
            Resume run
          </Act>
        </div>
      )}
      {!started && <Preflight view={view} onBegin={(reason) => order({ kind: 'begin', ...(reason.trim() ? { reason } : {}) })} />}
      <div className="mt-6 grid gap-10 xl:grid-cols-[minmax(0,1fr)_340px]">
        {chart}
        <LiveSide view={view} onOrder={order} />
      </div>
    </div>
  );
}

/** Stage, rise and what comes next, to be read from two metres. */
function Standing({ view, now }: { view: LiveView; now: () => number }) {
  const { state, forecast, settings } = view;
  const [, setSecond] = useState(0);
  useEffect(() => {
    const timer = setInterval(() => setSecond((n) => n + 1), 1000);
    return () => clearInterval(timer);
  }, []);
  const at = now();
  const from = (s: number) => Math.max(0, s - at);
  const w = state.window;
  const under = state.load_from_s !== null && state.load_to_s === null;
  return (
    <div className="mt-5 grid items-end gap-x-10 gap-y-4 md:grid-cols-[minmax(0,1fr)_auto]">
      <div>
        <h1
          className={`text-figure leading-none font-semibold tracking-tight ${state.stage === 'stopped' ? 'text-ember' : ''}`}
          data-testid="stage"
        >
          {STAGE_WORDS[state.stage]}
        </h1>
        <p className="mt-2 text-title leading-tight" data-testid="waits">
          {forecast && (state.stage === 'load' || state.stage === 'settling') && settings.kind !== 'limit_test'
            ? `Steady ${between(from(forecast.low_s), from(forecast.high_s))}`
            : state.waits || (under ? 'Too early to say when it will be steady.' : '')}
        </p>
        {forecast && under && (
          <p className="mt-1 text-soft">
            95 % interval, most likely in {span(from(forecast.steady_s))};{' '}
            {forecast.end ? (
              <>
                ends near <span className="figure">{write(forecast.end.k, 1)} K</span> (
                <span className="figure">
                  {write(forecast.end.low_k, 1)} to {write(forecast.end.high_k, 1)}
                </span>
                ) if power and room stay.
              </>
            ) : (
              'its end value cannot be predicted yet.'
            )}{' '}
            <CheckedLink subject="live" />
          </p>
        )}
      </div>
      <div className="md:text-right">
        {w ? <Figure value={write(w.rise_k, 1)} unit="K" size="large" /> : <span className="text-title text-soft">no rise yet</span>}
        {w && (
          <p className={w.steady ? 'text-soft' : ''}>
            over the last {span(settings.window_s)}: slope{' '}
            <span className="figure">
              {writeSigned(w.slope, 2)} ± {write(w.reach, 2)} K/min
            </span>
            {w.steady ? ', steady' : ', not steady'}
          </p>
        )}
      </div>
      <div className="md:col-span-2">
        <StageTrack stage={state.stage} />
      </div>
    </div>
  );
}

/** The readings so far on one time axis: rise, room, power, fan, clock and noise, each with the stages behind it. */
function LiveChart({ view, trace, drawn }: { view: LiveView; trace: LiveTrace; drawn: number }) {
  const { state, settings } = view;
  const to = Math.max(60, trace.newest);
  const from = Math.max(0, Math.min(state.cycle_from_s - BEFORE_S, to - 60));
  // biome-ignore lint/correctness/useExhaustiveDependencies: the trace grows in place; a new drawing is told by its number
  const lines = useMemo(() => linesOf(trace, from, to, settings.room_c), [trace, drawn]);
  const stages: StageBand[] = [];
  if (state.load_from_s !== null) {
    stages.push({ stage: 'idle', start_s: state.cycle_from_s, end_s: state.load_from_s });
    stages.push({ stage: 'sustained', start_s: state.load_from_s, end_s: state.load_to_s ?? to });
    if (state.load_to_s !== null) stages.push({ stage: 'cooldown', start_s: state.load_to_s, end_s: to });
  }
  const window =
    state.opened_s !== null
      ? { start_s: Math.max(state.opened_s, (state.load_to_s ?? state.t) - settings.window_s), end_s: state.load_to_s ?? state.t }
      : null;
  if (lines.length === 0) return <p className="grid h-80 place-items-center text-soft">Waiting for the first readings…</p>;
  return (
    <div className="min-w-0">
      <TraceChart
        title={`Live trace of ${view.specimen}, mount ${view.mount}`}
        lines={lines}
        stages={stages}
        window={window}
        duration_s={to}
        range={[from, to]}
        strips={STRIPS}
      />
    </div>
  );
}

function linesOf(trace: LiveTrace, from: number, to: number, room: number | null): ChannelLine[] {
  const lines: ChannelLine[] = [];
  const add = (name: string, role: string, unit: string | null, t: Float64Array, values: Float64Array, period: number) => {
    if (t.length > 0)
      lines.push({ name, role, unit, ...downsample(t, values, from, to, COLUMNS, Math.max(4.2 * period, (to - from) / 120)) });
  };
  const rise = trace.rise(from, to + 1, room);
  add('Rise', 'rise', 'K', rise.t, rise.values, trace.channels[0]?.period_s ?? 1);
  for (const c of trace.channels) {
    const series = trace.series.get(c.name);
    if (series && (rise.t.length === 0 || c.role !== 'sensor')) add(c.name, c.role, c.unit, series.t, series.values, c.period_s);
  }
  return lines;
}
