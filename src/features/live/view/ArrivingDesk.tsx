import { type ReactNode, useEffect, useRef, useState } from 'react';
import { ROLES, type Role } from '#core/signal/logs/types';
import { digitsOfSpread, plural, write } from '#core/text/words';
import { UNITS, type Unit } from '#core/units/units';
import { type Arriving, type ArrivingNews, channelText } from '#features/live/model/arriving';
import type { SheetValues } from '#features/shelf/model/sections';
import { Act, Alert, Options, Quiet } from '#ui/Form.tsx';
import { sendJson } from '#ui/send';
import { Table } from '#ui/Table.tsx';

interface Instrument {
  id: number;
  name: string;
  sheet: SheetValues;
  version: number;
}

const ROLE_WORDS: Partial<Record<Role, string>> = {
  sensor: 'sensor: the part',
  ambient: 'ambient: the room',
  ignore: 'ignore: kept aside',
};
const ROLE_CHOICES = ROLES.map((role) => [role, ROLE_WORDS[role] ?? role] as const);
const UNIT_CHOICES = Object.entries(UNITS).map(([unit, { symbol }]) => [unit, symbol] as const);

/** What an instrument sends, as it comes: tick what is measured, name it, and the sheet has its channels. */
export function ArrivingDesk({ instrument }: { instrument: Instrument }) {
  const all = useArriving(instrument.id, 'all');
  const [stored, setStored] = useState(instrument);
  const [told, setTold] = useState<string | null>(null);
  const [saved, setSaved] = useState<string | null>(null);
  const write = async (more: SheetValues, words: string) => {
    setSaved(null);
    const { id, name, sheet, version } = stored;
    const answer = await sendJson<Instrument>(
      'PUT',
      `/api/shelf/instruments/${id}`,
      { name, sheet: { ...sheet, ...more }, version },
      setTold,
    );
    if (!answer) return;
    setStored(answer);
    setSaved(words);
  };
  const begin = all.watch;
  // the page is there to look: it looks once by itself
  useEffect(() => begin(10), [begin]);
  return (
    <div className="mt-6 flex flex-col gap-10">
      <section aria-labelledby="arriving">
        <h2 id="arriving" className="text-title font-semibold">
          What it sends
        </h2>
        <Course {...all} begin={() => begin(10)} words="Look for 10 s" />
        {all.news?.identity && (
          <p className="mt-2">
            It names itself “{all.news.identity}”. What it can be asked stands in its manual; the queries go into the channels of its sheet.{' '}
            <Quiet onClick={() => write({ identity: all.news?.identity?.slice(0, 80) ?? '' }, 'The identity is on the sheet.')}>
              Expect this instrument
            </Quiet>
          </p>
        )}
        {all.news && all.news.seen.length > 0 && (
          <Found
            seen={all.news.seen}
            store={(channels, count) => write({ channels }, `${plural(count, 'channel')} written to the sheet.`)}
          />
        )}
      </section>
      <Alert className="">{told}</Alert>
      <p role="status" className="-mt-6 font-semibold">
        {saved}
      </p>
      <Channels key={String(stored.sheet.channels ?? '')} instrument={stored} store={write} />
    </div>
  );
}

interface Watching {
  news: ArrivingNews | null;
  on: boolean;
  problem: string | null;
  watch: (seconds: number) => void;
  stop: () => void;
}

/** Looks at an instrument for some seconds, again where it is asked to. */
function useArriving(id: number, what: 'all' | 'channels'): Watching {
  const [news, setNews] = useState<ArrivingNews | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [on, setOn] = useState(false);
  const source = useRef<EventSource | null>(null);
  const stop = useRef(() => {
    source.current?.close();
    source.current = null;
    setOn(false);
  }).current;
  const watch = useRef((seconds: number) => {
    stop();
    setOn(true);
    setNews(null);
    setProblem(null);
    const url = `/api/instruments/${id}/arriving?what=${what}&seconds=${seconds}`;
    const events = new EventSource(url);
    source.current = events;
    events.addEventListener('arriving', (e) => {
      const now = JSON.parse(e.data) as ArrivingNews;
      setNews(now);
      if (now.over) stop();
    });
    events.addEventListener('error', async () => {
      if (source.current !== events) return;
      stop();
      // an event source does not say why it was refused
      const answer = await fetch(url).catch(() => null);
      if (answer && !answer.ok) setProblem(((await answer.json()) as { error: string }).error);
      else {
        await answer?.body?.cancel();
        setProblem('The server does not answer; look again in a moment.');
      }
    });
  }).current;
  useEffect(() => stop, [stop]);
  return { news, on, problem: problem ?? news?.problem ?? null, watch, stop };
}

/** How far the look is, and the buttons that begin and end it. */
const Course = ({
  news,
  on,
  problem,
  stop,
  begin,
  words,
  children,
}: Watching & { begin: () => void; words: string; children?: ReactNode }) => (
  <>
    <div className="mt-2 flex flex-wrap items-center gap-4">
      {on ? <Quiet onClick={stop}>Stop</Quiet> : <Quiet onClick={begin}>{words}</Quiet>}
      {children}
      <span role="status" className="text-soft">
        {on
          ? news
            ? `${write(news.elapsed_s, 0)} of ${write(news.lasts_s, 0)} s`
            : 'Connecting …'
          : news && news.seen.length === 0 && !problem && !news.identity
            ? 'Nothing came.'
            : ''}
      </span>
    </div>
    {problem && <Alert>{problem}</Alert>}
    {news && news.refused.length > 0 && (
      <ul className="mt-2 text-soft">
        {news.refused.map((text) => (
          <li key={text}>{text}</li>
        ))}
      </ul>
    )}
  </>
);

interface Named {
  on: boolean;
  name: string;
  role: Role;
  unit: Unit | null;
}

const keyOf = ({ query, name }: Arriving): string => query || name;

function Found({ seen, store }: { seen: Arriving[]; store: (channels: string, count: number) => void }) {
  const [said, setSaid] = useState<Record<string, Named>>({});
  const of = (a: Arriving): Named => said[keyOf(a)] ?? { on: false, name: a.name, role: a.role, unit: a.unit };
  const say = (a: Arriving, more: Partial<Named>) => setSaid({ ...said, [keyOf(a)]: { ...of(a), ...more } });
  const chosen = seen.filter((a) => of(a).on);
  const unnamed = chosen.find((a) => of(a).unit === null && !['throttle', 'score', 'frame', 'ignore'].includes(of(a).role));
  return (
    <>
      <Table
        className="mt-3"
        label="What the instrument sends"
        least="min-w-[46rem]"
        rows={seen}
        keyOf={keyOf}
        columns={[
          {
            head: <span className="sr-only">Take</span>,
            cell: (a) => (
              <input
                type="checkbox"
                aria-label={`Take ${keyOf(a)}`}
                className="size-5"
                disabled={a.kept}
                checked={of(a).on}
                onChange={(e) => say(a, { on: e.target.checked, role: of(a).role === 'ignore' ? 'sensor' : of(a).role })}
              />
            ),
          },
          {
            head: 'Comes as',
            names: true,
            className: 'font-normal break-all',
            cell: (a) => (a.query || a.name) + (a.kept ? ' (kept by the broker, of unknown age)' : ''),
          },
          { head: 'Now', figure: true, cell: (a) => a.text },
          { head: 'Per second', figure: true, cell: (a) => (a.quality.rate_hz === null ? '–' : write(a.quality.rate_hz, 1)) },
          {
            head: 'Name',
            cell: (a) => (
              <input
                className="field w-full min-w-36"
                aria-label={`Name of ${keyOf(a)}`}
                value={of(a).name}
                maxLength={40}
                onChange={(e) => say(a, { name: e.target.value.replace(/[:;=]/g, ''), on: !a.kept })}
              />
            ),
          },
          {
            head: 'Is',
            cell: (a) => (
              <select
                className="field"
                aria-label={`What ${keyOf(a)} is`}
                value={of(a).role}
                onChange={(e) => say(a, { role: e.target.value as Role, on: !a.kept })}
              >
                <Options choices={ROLE_CHOICES} />
              </select>
            ),
          },
          {
            head: 'Unit',
            cell: (a) => (
              <select
                className="field"
                aria-label={`Unit of ${keyOf(a)}`}
                value={of(a).unit ?? ''}
                onChange={(e) => say(a, { unit: (e.target.value || null) as Unit | null, on: !a.kept })}
              >
                <option value="">none</option>
                <Options choices={UNIT_CHOICES} />
              </select>
            ),
          },
        ]}
      />
      <div className="mt-3 flex flex-wrap items-center gap-4">
        <Act
          disabled={chosen.length === 0 || unnamed !== undefined}
          onClick={() => store(chosen.map((a) => channelText({ ...of(a), query: a.query })).join('; '), chosen.length)}
        >
          {chosen.length === 0 ? 'Tick what is measured' : `Write ${plural(chosen.length, 'channel')} to the sheet`}
        </Act>
        {unnamed && <span className="text-soft">{of(unnamed).name} needs its unit.</span>}
      </div>
    </>
  );
}

/** The channels of the sheet as a live run reads them: once, or for a minute with what that says of the instrument. */
function Channels({ instrument, store }: { instrument: Instrument; store: (more: SheetValues, words: string) => void }) {
  const watching = useArriving(instrument.id, 'channels');
  const { news, on, watch } = watching;
  if (!instrument.sheet.channels) return null;
  const judged = (news?.seen ?? []).filter((a) => a.quality.noise !== null);
  const most = (of: (a: Arriving) => number | null) => Math.max(...judged.flatMap((a) => of(a) ?? []), Number.NEGATIVE_INFINITY);
  const [noise, resolution] = [most((a) => a.quality.noise), most((a) => a.quality.resolution)];
  return (
    <section aria-labelledby="channels">
      <h2 id="channels" className="text-title font-semibold">
        Channels of its sheet
      </h2>
      <p className="mt-1 max-w-3xl text-soft">
        Read as a live run reads them, its offset added. Watched for a minute at something that does not change, they show their noise,
        their smallest step and their drift.
      </p>
      <Course {...watching} begin={() => watch(60)} words="Watch for a minute">
        {!on && <Quiet onClick={() => watch(3)}>Read now</Quiet>}
      </Course>
      {news && news.seen.length > 0 && (
        <Table
          className="mt-3"
          label="Readings of the channels"
          least="min-w-[36rem]"
          rows={news.seen}
          keyOf={(a) => a.name}
          columns={[
            { head: 'Channel', names: true, className: 'font-normal', cell: (a) => a.name },
            { head: 'Now', figure: true, cell: (a) => a.text },
            { head: 'Readings', figure: true, cell: (a) => a.quality.count },
            {
              head: 'Noise (SD)',
              figure: true,
              cell: (a) => (a.quality.noise === null ? '–' : write(a.quality.noise, digitsOfSpread(a.quality.noise))),
            },
            { head: 'Smallest step', figure: true, cell: (a) => a.quality.resolution ?? '–' },
            {
              head: 'Drift per minute',
              figure: true,
              cell: ({ quality: { drift_per_min, drift_se } }) =>
                drift_per_min === null ? '–' : write(drift_per_min, digitsOfSpread(drift_se ?? 0)),
            },
          ]}
        />
      )}
      {news?.over && Number.isFinite(noise) && (
        <p className="mt-3 flex flex-wrap items-center gap-4">
          <Quiet
            onClick={() =>
              store(
                { noise_floor: Number(noise.toPrecision(2)), ...(Number.isFinite(resolution) ? { resolution } : {}) },
                'Noise floor and resolution are on the sheet.',
              )
            }
          >
            Write noise and resolution to the sheet
          </Quiet>
          <span className="text-soft">
            The largest of its channels: noise {Number(noise.toPrecision(2))}
            {Number.isFinite(resolution) && `, smallest step ${resolution}`}.
          </span>
        </p>
      )}
    </section>
  );
}
