-- Up Migration

create table rigs (
  id bigint generated always as identity primary key,
  name text not null unique check (length(name) between 1 and 80),
  heat_source text not null default '' check (length(heat_source) <= 200),
  throttle_limit_c double precision check (throttle_limit_c between 0 and 300),
  created_at timestamptz not null default now()
);

create table studies (
  id bigint generated always as identity primary key,
  title text not null unique check (length(title) between 1 and 120),
  question text not null default '' check (length(question) <= 1000),
  margin_k double precision not null default 1 check (margin_k > 0),
  confidence double precision not null default 0.95 check (confidence > 0.5 and confidence < 1),
  scatter text not null default 'auto' check (scatter in ('auto', 'pooled', 'separate')),
  -- settings of the reduction that differ from the defaults
  reduction jsonb not null default '{}',
  created_at timestamptz not null default now()
);

create table specimens (
  id bigint generated always as identity primary key,
  study_id bigint not null references studies on delete cascade,
  name text not null check (length(name) between 1 and 80),
  kind text not null,
  -- order of first appearance; it also fixes the specimen's mark
  position int not null,
  unique (study_id, name),
  unique (study_id, position)
);

alter table studies add column reference_id bigint references specimens on delete set null;

-- One application and assembly of one specimen on one rig: the unit of replication.
create table mounts (
  id bigint generated always as identity primary key,
  specimen_id bigint not null references specimens on delete cascade,
  rig_id bigint not null references rigs,
  number int not null check (number > 0),
  note text not null default '' check (length(note) <= 2000),
  excluded_reason text check (length(excluded_reason) between 1 and 500),
  created_at timestamptz not null default now(),
  unique (specimen_id, number)
);

-- Original files, byte for byte.
create table log_files (
  sha256 bytea primary key check (length(sha256) = 32),
  name text not null,
  bytes bytea not null,
  created_at timestamptz not null default now()
);

create table runs (
  id bigint generated always as identity primary key,
  -- made by the sender, so that a repeated import is recognised
  import_id uuid not null unique,
  mount_id bigint not null references mounts on delete cascade,
  number int not null check (number > 0),
  started_at timestamptz,
  -- false where the log names no zone: then started_at holds its clock as if it were UTC
  started_zoned boolean not null,
  -- decisions about reading and reduction as they were taken
  reading jsonb not null,
  options jsonb not null,
  -- the reduction in the words of the headless contract, without its findings
  result jsonb not null,
  rise_k double precision,
  se_k double precision,
  r_k_per_w double precision,
  valid boolean not null,
  r_valid boolean not null,
  censored boolean not null,
  created_at timestamptz not null default now(),
  unique (mount_id, number)
);

create table run_files (
  run_id bigint not null references runs on delete cascade,
  position int not null,
  sha256 bytea not null references log_files,
  name text not null,
  primary key (run_id, position)
);
-- A room log may serve several runs; the file that carries a run may not come twice.
create unique index run_files_once on run_files (sha256) where position = 0;
create index run_files_sha256 on run_files (sha256);

create table channels (
  id bigint generated always as identity primary key,
  run_id bigint not null references runs on delete cascade,
  position int not null,
  -- channels of one file share a time axis
  axis int not null,
  name text not null,
  file text not null,
  role text not null,
  unit text,
  unique (run_id, position)
);

create table time_chunks (
  run_id bigint not null references runs on delete cascade,
  axis int not null,
  chunk int not null,
  t_from double precision not null,
  t_to double precision not null,
  t double precision[] not null,
  primary key (run_id, axis, chunk)
);

create table trace_chunks (
  channel_id bigint not null references channels on delete cascade,
  chunk int not null,
  low real,
  high real,
  readings real[] not null,
  primary key (channel_id, chunk)
);

create table findings (
  id bigint generated always as identity primary key,
  run_id bigint not null references runs on delete cascade,
  code text not null,
  severity text not null check (severity in ('note', 'warn', 'reject')),
  message text not null,
  numbers jsonb
);
create index findings_run on findings (run_id);

-- Whether the demo was loaded to its end; an interrupted load goes on at the next start.
create table demo_loads (
  started_at timestamptz primary key default now(),
  finished_at timestamptz
);

-- Down Migration

drop table demo_loads, findings, trace_chunks, time_chunks, channels, run_files, runs, log_files, mounts cascade;
alter table studies drop column reference_id;
drop table specimens, studies, rigs;
