import { database } from '#app/database/pool';
import { Refusal } from '#app/refusal';
import type { LiveChannel } from '#core/live/types';
import { downsample } from '#core/signal/trace/downsample';
import {
  type AlarmRow,
  type Batch,
  type CycleRow,
  getLive,
  listAlarms,
  listBatches,
  listCycles,
  listLive,
  listRefusals,
  type PlacedLive,
  type RefusalRow,
} from '#features/live/store/live';
import { addressWords } from '#features/shelf/model/sourceAddress';

/** A live run as a page shows it. */
export interface LiveView
  extends Pick<
    PlacedLive,
    | 'id'
    | 'mount_id'
    | 'mount'
    | 'rig'
    | 'rig_id'
    | 'specimen_id'
    | 'specimen'
    | 'specimen_position'
    | 'study_id'
    | 'study'
    | 'settings'
    | 'state'
    | 'forecast'
    | 'checks'
    | 'health'
    | 'time_scale'
    | 'who'
  > {
  channels: LiveChannel[];
  sources: { name: string; address: string }[];
  started_at: Date;
  over: boolean;
  /** the run's clock as this was told, s */
  now_s: number;
  alarms: AlarmRow[];
  refusals: RefusalRow[];
  cycles: CycleRow[];
}

/**
 * A live run as its page shows it.
 * @throws Refusal 404 where there is none
 */
export async function liveView(id: number): Promise<LiveView> {
  const db = database();
  const live = await getLive(db, id);
  if (!live) throw new Refusal(`There is no live run ${id}.`, 404);
  const [alarms, refusals, cycles] = await Promise.all([listAlarms(db, id), listRefusals(db, id), listCycles(db, id)]);
  return viewOf(live, alarms, refusals, cycles);
}

function viewOf(live: PlacedLive, alarms: AlarmRow[], refusals: RefusalRow[], cycles: CycleRow[]): LiveView {
  const { sources, ended_at, ...rest } = live;
  return {
    ...rest,
    sources: sources.map(({ name, address: a }) => ({
      name,
      address: addressWords(a),
    })),
    channels: sources.flatMap((s) =>
      s.channels.map(({ name, role, unit }) => ({ name, role, unit, source: s.name, period_s: s.period_s })),
    ),
    over: ended_at !== null,
    now_s: clockOf(live),
    ...{ alarms, refusals, cycles },
  };
}

const clockOf = ({ started_at, ended_at, time_scale, state }: PlacedLive): number =>
  ended_at ? state.t : ((Date.now() - started_at.getTime()) / 1000) * time_scale;

/** What the bench shows of each rig's live run. */
export interface LiveLane {
  id: number;
  rig_id: number;
  mount_id: number;
  name: string;
  specimen_position: number;
  stage: PlacedLive['state']['stage'];
  kind: PlacedLive['settings']['kind'];
  cycle: number;
  cycles: number;
  waits: string;
  rise_k: number | null;
  /** when it will be steady, in s of the bench from now, with its 95 % interval; null where nothing is known */
  steady_in: { s: number; low: number; high: number } | null;
  alarms: { code: string; message: string; lasts: boolean; seen: boolean; raised_at: Date }[];
  over: boolean;
  ended_at: Date | null;
  runs: { id: number; rise_k: number | null; number: number }[];
}

/** The live runs that go on, as the bench shows them, with the newest ended one of each rig. */
export async function liveLanes(): Promise<LiveLane[]> {
  const db = database();
  return Promise.all(
    (await listLive(db)).map(async (l) => {
      const [alarms, cycles] = await Promise.all([listAlarms(db, l.id), listCycles(db, l.id)]);
      const now = clockOf(l);
      const from = (s: number) => Math.max(0, s - now);
      return {
        ...{
          ...{ id: l.id, rig_id: l.rig_id, mount_id: l.mount_id, specimen_position: l.specimen_position, stage: l.state.stage },
          kind: l.settings.kind,
        },
        name: `${l.specimen}, mount ${l.mount}`,
        ...{ cycle: l.state.cycle, cycles: l.settings.cycles, waits: l.state.waits, rise_k: l.state.window?.rise_k ?? null },
        steady_in:
          l.forecast && l.state.stage !== 'averaging'
            ? { s: from(l.forecast.steady_s), low: from(l.forecast.low_s), high: from(l.forecast.high_s) }
            : null,
        alarms: alarms.map((a) => ({
          code: a.code,
          message: a.message,
          lasts: a.ended_at === null,
          seen: a.acknowledged_at !== null,
          raised_at: a.raised_at,
        })),
        ...{ over: l.ended_at !== null, ended_at: l.ended_at },
        runs: cycles.flatMap((c) => (c.run_id === null ? [] : [{ id: c.run_id, rise_k: c.rise_k, number: c.run_number ?? c.cycle }])),
      };
    }),
  );
}

/** Readings on their way to a page: times, and figures by channel; null where one is missing. */
export interface SentReadings {
  t: number[];
  channels: Record<string, (number | null)[]>;
}

/** A batch as it goes to the browser. */
export function sendable(batch: Batch): SentReadings {
  const round = (v: number) => (Number.isNaN(v) ? null : Math.round(v * 1e4) / 1e4);
  return {
    t: Array.from(batch.t, (v) => Math.round(v * 1000) / 1000),
    channels: Object.fromEntries(batch.channels.map((c) => [c.name, Array.from(c.values, round)])),
  };
}

/** Points that a page begins with, and the oldest readings it is given, s before now. */
const POINTS = 900;
const OLDEST_S = 3 * 3600;

/** Readings so far, thinned to what a screen can show, by channel. */
export async function liveReadings(id: number): Promise<Record<string, { t: number[]; v: (number | null)[] }>> {
  const db = database();
  const live = await getLive(db, id);
  if (!live) throw new Refusal(`There is no live run ${id}.`, 404);
  const to = Math.max(live.state.t, clockOf(live)) + 1;
  const from = Math.max(0, to - OLDEST_S);
  const batches = await listBatches(db, id, from, to);
  const out: Record<string, { t: number[]; v: (number | null)[] }> = {};
  for (const source of live.sources) {
    const own = batches.filter((b) => b.source === source.name);
    const t = Float64Array.from(own.flatMap((b) => Array.from(b.t)));
    for (const c of source.channels) {
      const values = Float64Array.from(own.flatMap((b) => Array.from(b.channels.find((x) => x.name === c.name)?.values ?? [])));
      if (values.length !== t.length || t.length === 0) continue;
      const line = downsample(t, values, from, to, POINTS, 1e9);
      out[c.name] = {
        t: line.t.map((s) => Math.round(s * 1000) / 1000),
        v: line.v.map((v) => (v === null ? null : Math.round(v * 1e4) / 1e4)),
      };
    }
  }
  return out;
}
