import type { Client } from '#app/database/pool';
import { execute, first, many } from '#app/database/query';
import type { AgentChannel } from '#features/live/model/agent';
import type { LiveSource } from '#features/shelf/model/channelMap';

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
}

/** Notes what an agent says of its machine now. */
export const noteAgent = (db: Client, a: Omit<AgentRow, 'seen_at' | 'instrument_id' | 'asked_hold_w' | 'asked_limit_c'>) => execute(db)`
  insert into agents (key, name, channels, period_s, can_load, hold_w, limit_c, now)
  values (${a.key}, ${a.name}, ${JSON.stringify(a.channels)}, ${a.period_s}, ${a.can_load}, ${a.hold_w}, ${a.limit_c}, ${a.now})
  on conflict (key) do update set name = excluded.name, channels = excluded.channels, period_s = excluded.period_s,
    can_load = excluded.can_load, hold_w = excluded.hold_w, limit_c = excluded.limit_c, now = excluded.now, seen_at = now()`;

/** A machine by its key; null where it never spoke. */
export const getAgent = (db: Client, key: string) => first<AgentRow>(db)`
  select key, name, channels, period_s, can_load, hold_w, limit_c, now, asked_hold_w, asked_limit_c, seen_at, instrument_id from agents where key = ${key}`;

/** Machines that spoke within so many seconds, by name. */
export const listAgents = (db: Client, within_s: number) => many<AgentRow>(db)`
  select key, name, channels, period_s, can_load, hold_w, limit_c, now, asked_hold_w, asked_limit_c, seen_at, instrument_id from agents
  where seen_at > now() - make_interval(secs => ${within_s}) order by name, key limit 50`;

/** The instrument on the shelf that a machine is. */
export const setInstrument = (db: Client, key: string, instrumentId: number) =>
  execute(db)`update agents set instrument_id = ${instrumentId} where key = ${key}`;

/** What the load of a machine is to hold, and where it is to end, from its next run on. */
export const setAsked = (db: Client, key: string, hold_w: number | null, limit_c: number | null) =>
  execute(db)`update agents set asked_hold_w = ${hold_w}, asked_limit_c = ${limit_c} where key = ${key}`;

/** The live run that goes on and reads an instrument; null where there is none. */
export const liveOfInstrument = (db: Client, instrumentId: number) => first<{ id: number; sources: LiveSource[] }>(db)`
  select id, sources from live_runs
  where ended_at is null and state ->> 'stage' not in ('finished', 'stopped') and sources @> ${JSON.stringify([{ instrument_id: instrumentId }])}::jsonb
  order by id desc limit 1`;
