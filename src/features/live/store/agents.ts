import type { Client } from '#app/database/pool';
import { execute, first, many, sql } from '#app/database/query';
import type { AgentChannel } from '#features/live/model/agent';

/** A machine whose agent said what it reads. */
export interface AgentRow {
  key: string;
  name: string;
  channels: AgentChannel[];
  period_s: number;
  can_load: boolean;
  hold_w: number | null;
  limit_c: number | null;
  now: Record<string, number | null>;
  asked_hold_w: number | null;
  asked_limit_c: number | null;
  seen_at: Date;
  instrument_id: number | null;
  /** the live run that goes on on it, and the name of its readings there */
  live_id: number | null;
  live_source: string | null;
}

const COLUMNS = sql`
  a.key, a.name, a.channels, a.period_s, a.can_load, a.hold_w, a.limit_c, a.now, a.asked_hold_w, a.asked_limit_c, a.seen_at, a.instrument_id,
  live.id as live_id, live.source as live_source`;
/** The live run that goes on and reads a machine, with the name that its readings have there. */
const LIVE = sql`
  left join lateral (
    select l.id, s ->> 'name' as source from live_runs l, jsonb_array_elements(l.sources) s
    where l.ended_at is null and l.state ->> 'stage' not in ('finished', 'stopped') and (s ->> 'instrument_id')::bigint = a.instrument_id
    order by l.id desc limit 1) live on true`;

/** Notes what an agent says of its machine now. */
export const noteAgent = (
  db: Client,
  a: Omit<AgentRow, 'seen_at' | 'instrument_id' | 'asked_hold_w' | 'asked_limit_c' | 'live_id' | 'live_source'>,
) =>
  execute(db)`
  insert into agents (key, name, channels, period_s, can_load, hold_w, limit_c, now)
  values (${a.key}, ${a.name}, ${JSON.stringify(a.channels)}, ${a.period_s}, ${a.can_load}, ${a.hold_w}, ${a.limit_c}, ${a.now})
  on conflict (key) do update set name = excluded.name, channels = excluded.channels, period_s = excluded.period_s,
    can_load = excluded.can_load, hold_w = excluded.hold_w, limit_c = excluded.limit_c, now = excluded.now, seen_at = now()`;

/** A machine by its key; null where it never spoke. */
export const getAgent = (db: Client, key: string) => first<AgentRow>(db)`select ${COLUMNS} from agents a ${LIVE} where a.key = ${key}`;

/** Machines that spoke within so many seconds, by name. */
export const listAgents = (db: Client, within_s: number) => many<AgentRow>(db)`
  select ${COLUMNS} from agents a ${LIVE} where a.seen_at > now() - make_interval(secs => ${within_s}) order by a.name, a.key limit 50`;

/** The newest studies in use, with what is compared in each. */
export const listBeginnable = (db: Client, most: number) => many<{ id: number; title: string; specimens: string[] }>(db)`
  select t.id, t.title, array(select s.name from specimens s where s.study_id = t.id order by s.position) as specimens
  from studies t where t.archived_at is null order by t.created_at desc, t.id desc limit ${most}`;

/** The instrument on the shelf that a machine is. */
export const setInstrument = (db: Client, key: string, instrumentId: number) =>
  execute(db)`update agents set instrument_id = ${instrumentId} where key = ${key}`;

/** What the load of a machine is to hold, and where it is to end, from its next run on. */
export const setAsked = (db: Client, key: string, hold_w: number | null, limit_c: number | null) =>
  execute(db)`update agents set asked_hold_w = ${hold_w}, asked_limit_c = ${limit_c} where key = ${key}`;
