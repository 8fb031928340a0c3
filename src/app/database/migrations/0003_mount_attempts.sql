-- Up Migration

-- One try to make a mount: a mount whose first start fails, or that tilts or leaks, is tried again, and each try is kept.
create table mount_attempts (
  id bigint generated always as identity primary key,
  mount_id bigint not null references mounts on delete cascade,
  number int not null check (number > 0),
  begun_at timestamptz not null default now(),
  ended_at timestamptz,
  -- null while it is under way
  outcome text check (outcome in ('ready', 'no_start', 'part_missing', 'tilted', 'leaked', 'remounted')),
  reason text not null default '' check (length(reason) <= 500),
  who text not null default '' check (length(who) <= 20),
  -- what was done and written down at each step: the domain's StepState by its key
  steps jsonb not null default '{}' check (jsonb_typeof(steps) = 'object'),
  unique (mount_id, number),
  check ((outcome is null) = (ended_at is null))
);
-- one try at a time
create unique index mount_attempts_open on mount_attempts (mount_id) where outcome is null;

-- Down Migration

drop table mount_attempts;
