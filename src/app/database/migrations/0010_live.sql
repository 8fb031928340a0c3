-- Up Migration

-- A live run: cycles on one mount that are followed while they go on. Each cycle that closes becomes a run like any other.
create table live_runs (
  id bigint generated always as identity primary key,
  mount_id bigint not null references mounts on delete cascade,
  rig_id bigint not null references rigs on delete cascade,
  who text not null default '' check (length(who) <= 20),
  -- the core's LiveSettings, and the domain's LiveSource[] as they were when it began
  settings jsonb not null,
  sources jsonb not null,
  -- bench seconds per second: more than one for a simulated bench alone
  time_scale double precision not null default 1 check (time_scale between 1 and 100),
  started_at timestamptz not null default now(),
  ended_at timestamptz,
  -- the core's LiveState, the newest forecast, the pre-flight checks, and how each source does
  state jsonb not null,
  forecast jsonb,
  checks jsonb not null default '[]',
  health jsonb not null default '{}',
  -- seconds added to the times of devices that push, by source
  clocks jsonb not null default '{}',
  stage text not null generated always as (state ->> 'stage') stored
);
-- a rig does one thing at a time
create unique index live_runs_rig on live_runs (rig_id) where ended_at is null;
create index live_runs_mount on live_runs (mount_id);

-- Readings of one source with sequence numbers that follow each other. They are acknowledged when this row is committed.
create table live_batches (
  id bigint generated always as identity,
  live_id bigint not null references live_runs on delete cascade,
  source text not null,
  seq_from bigint not null,
  seq_to bigint not null check (seq_to >= seq_from),
  t_from double precision not null,
  t_to double precision not null,
  channels text[] not null,
  -- 64-bit floats, most significant byte first: all times, then all readings of each channel; NaN where missing
  readings bytea not null,
  received_at timestamptz not null default now(),
  primary key (live_id, source, seq_from)
);
alter table live_batches alter column readings set storage external;
create unique index live_batches_id on live_batches (id);
create index live_batches_time on live_batches (live_id, t_to);

-- What a person told a live run; obeyed in their order by whoever follows it.
create table live_orders (
  id bigint generated always as identity primary key,
  live_id bigint not null references live_runs on delete cascade,
  given_at timestamptz not null default now(),
  who text not null default '' check (length(who) <= 20),
  kind text not null,
  about jsonb not null default '{}',
  obeyed_at timestamptz
);
create index live_orders_open on live_orders (live_id, id) where obeyed_at is null;

create table live_alarms (
  id bigint generated always as identity primary key,
  live_id bigint not null references live_runs on delete cascade,
  code text not null,
  message text not null,
  at_s double precision not null,
  raised_at timestamptz not null default now(),
  ended_at timestamptz,
  acknowledged_at timestamptz,
  acknowledged_by text not null default ''
);
create unique index live_alarms_open on live_alarms (live_id, code) where ended_at is null;

-- What came and could not be taken, counted by what was wrong with it.
create table live_refusals (
  live_id bigint not null references live_runs on delete cascade,
  source text not null,
  code text not null,
  message text not null,
  count bigint not null default 1,
  first_at timestamptz not null default now(),
  last_at timestamptz not null default now(),
  primary key (live_id, source, code)
);

-- Cycles that closed, with the id under which their run is stored, so that storing it twice gives one run.
create table live_cycles (
  live_id bigint not null references live_runs on delete cascade,
  cycle int not null check (cycle > 0),
  import_id uuid not null default gen_random_uuid(),
  from_s double precision not null,
  to_s double precision not null,
  reason text,
  run_id bigint references runs on delete set null,
  problem text,
  primary key (live_id, cycle)
);

-- Down Migration

drop table live_cycles, live_refusals, live_alarms, live_orders, live_batches, live_runs;
