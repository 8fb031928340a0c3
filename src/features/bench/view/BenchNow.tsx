import { useEffect, useState } from 'react';
import { write } from '#core/text/words';
import type { QueuedMount } from '#features/bench/server/queue';
import type { LiveLane } from '#features/live/server/liveView';
import { AlarmBanner } from '#features/live/view/AlarmBanner.tsx';
import { StageTrack } from '#features/live/view/StageTrack.tsx';
import { between, STAGE_WORDS } from '#features/live/view/words';
import { dayWords } from '#features/study/model/calendar';
import { SpecimenMark } from '#ui/SpecimenMark.tsx';
import { send } from '#ui/send';
import { listenShared } from '#ui/sharedEvents';
import { Figure, Section } from '#ui/Words.tsx';

interface BenchNowProps {
  lanes: LiveLane[];
  queue: QueuedMount[];
  rigs: { id: number; name: string }[];
}

const SEEN = 'bench-seen';

/** All rigs as they go on, what changed while one was away, and what the order has next on each. */
export function BenchNow({ lanes: first, queue: queued, rigs }: BenchNowProps) {
  const [lanes, setLanes] = useState(first);
  const [queue, setQueue] = useState(queued);
  const [since, setSince] = useState<number | null>(null);
  const ended = lanes.filter((l) => l.over).length;
  useEffect(() => {
    setSince(Number(localStorage.getItem(SEEN) ?? Date.now()));
    const silence = listenShared('/api/bench/events', ['lanes'], (_, lanes) => setLanes(lanes as LiveLane[]));
    const leave = () => localStorage.setItem(SEEN, String(Date.now()));
    addEventListener('pagehide', leave);
    return () => {
      silence();
      removeEventListener('pagehide', leave);
    };
  }, []);
  const runs = lanes.reduce((n, l) => n + l.runs.length, 0);
  // biome-ignore lint/correctness/useExhaustiveDependencies: a run that came in or ended moves the queue on
  useEffect(() => {
    void fetch('/api/bench/queue')
      .then((r) => (r.ok ? r.json() : null))
      .then((q) => q && setQueue(q))
      .catch(() => {});
  }, [ended, runs]);
  const going = lanes.filter((l) => !l.over);
  const news = since === null ? [] : lanes.filter((l) => l.over && l.ended_at && new Date(l.ended_at).getTime() > since);
  const nameOf = (id: number) => rigs.find((r) => r.id === id)?.name ?? '';
  const acknowledge = async () => {
    for (const l of going.filter((x) => x.alarms.some((a) => !a.seen)))
      await send(
        `/api/live/${l.id}/orders`,
        { method: 'POST', headers: { 'content-type': 'application/json' }, body: '{"kind":"acknowledge"}' },
        () => {},
      );
  };
  return (
    <>
      {(going.length > 0 || news.length > 0) && (
        <div className="mt-3">
          <AlarmBanner
            alarms={going.flatMap((l) =>
              l.alarms.map((a) => ({
                key: `${l.id} ${a.code} ${a.raised_at}`,
                message: a.message,
                where: nameOf(l.rig_id),
                lasts: a.lasts,
                seen: a.seen,
              })),
            )}
            onSeen={acknowledge}
          />
        </div>
      )}
      {going.map((l) => (
        <Lane key={l.id} lane={l} rig={nameOf(l.rig_id)} />
      ))}
      {news.map((l) => (
        <p key={l.id} className="mt-3 border-l-4 border-ink py-1 pl-4">
          <span className="font-semibold">While you were away:</span> {l.name} on {nameOf(l.rig_id)}{' '}
          {l.stage === 'stopped' ? 'was stopped' : 'is done'}. {l.waits}{' '}
          {l.runs.map((r) => (
            <a key={r.id} href={`/runs/${r.id}`} className="mr-2 underline">
              Run {r.number}
              {r.rise_k !== null && `: ${write(r.rise_k, 1)} K`}
            </a>
          ))}
        </p>
      ))}
      {queue.length > 0 && <Queue queue={queue} />}
    </>
  );
}

/** One rig with its run, to be read from two metres. */
const Lane = ({ lane, rig }: { lane: LiveLane; rig: string }) => (
  <section className="section-rule mt-5" aria-label={`${rig}, live`}>
    <a
      href={`/live/${lane.id}`}
      className="grid items-end gap-x-8 gap-y-2 no-underline hover:bg-band md:grid-cols-[250px_minmax(0,1fr)_auto]"
    >
      <span>
        <span className="block text-title font-semibold">{rig}</span>
        <span className="flex items-center gap-2">
          <SpecimenMark position={lane.specimen_position} size={6} />
          {lane.name}
        </span>
        <span className="text-soft">
          {lane.kind === 'conditioning' ? 'cycle' : 'run'} {lane.cycle} of {lane.cycles}
        </span>
      </span>
      <span>
        <span className="block text-verdict leading-tight font-semibold">{STAGE_WORDS[lane.stage]}</span>
        <span className="block text-name">
          {lane.steady_in ? `Steady ${between(lane.steady_in.low, lane.steady_in.high)}` : lane.waits}
        </span>
      </span>
      <span className="md:text-right">
        {lane.rise_k === null ? (
          <span className="text-soft">no rise yet</span>
        ) : (
          <Figure value={write(lane.rise_k, 1)} unit="K" size="large" />
        )}
      </span>
    </a>
    <div className="mt-2">
      <StageTrack stage={lane.stage} small />
    </div>
  </section>
);

/** The order's next mounts, rig by rig. */
function Queue({ queue }: { queue: QueuedMount[] }) {
  const rigs = [...new Set(queue.map((q) => q.rig))].sort();
  return (
    <Section id="queue" title="Up next" heading="text-title" className="mt-8">
      <div className="mt-1 grid gap-x-10 gap-y-4 md:grid-cols-2">
        {rigs.map((rig) => (
          <div key={rig}>
            <h3 className="text-name font-semibold">{rig}</h3>
            <ol>
              {queue
                .filter((q) => q.rig === rig)
                .map((q, i) => (
                  <li key={`${q.study_id} ${q.specimen} ${q.number}`} className="border-b border-rule">
                    <a
                      href={q.mount_id ? `/mounts/${q.mount_id}` : `/studies/${q.study_id}/mounts`}
                      className={`grid grid-cols-[auto_minmax(0,1fr)] items-baseline gap-x-3 py-1.5 no-underline hover:bg-band ${i === 0 ? 'font-semibold' : ''}`}
                    >
                      <span className="figure text-note whitespace-nowrap">
                        {q.date ? `${dayWords(q.date).replace(/ \d{4}$/, '')} ` : ''}
                        {q.from}
                      </span>
                      <span className="flex min-w-0 items-center gap-2">
                        <SpecimenMark position={q.position} size={5} hollow={!q.mount_id} />
                        <span className="truncate">
                          {q.specimen}, mount {q.number} <span className="font-normal text-soft">{q.study}</span>
                        </span>
                      </span>
                    </a>
                  </li>
                ))}
            </ol>
          </div>
        ))}
      </div>
    </Section>
  );
}
