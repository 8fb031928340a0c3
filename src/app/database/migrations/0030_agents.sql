-- Up Migration

-- Machines that say what they read of themselves, so that a run can be begun on one without writing its sheet first.
create table agents (
  key uuid primary key,
  name text not null check (length(name) between 1 and 60),
  channels jsonb not null check (jsonb_typeof(channels) = 'array'),
  period_s double precision not null check (period_s between 0.01 and 100),
  -- it may be loaded: whoever started it said so
  can_load boolean not null,
  hold_w double precision check (hold_w between 0 and 1e6),
  limit_c double precision check (limit_c between 0 and 1000),
  -- its newest readings by channel
  now jsonb not null default '{}',
  -- what its next load is to hold and to end at, as the person who began the run said
  asked_hold_w double precision,
  asked_limit_c double precision,
  seen_at timestamptz not null default now(),
  instrument_id bigint references instruments on delete set null
);

-- Down Migration

drop table agents;
