-- Up Migration

-- How files with the same headers are read: what a person decided once and is offered again.
create table layouts (
  id bigint generated always as identity primary key,
  name text not null unique check (length(name) between 1 and 120),
  -- headers as they stand in the file; equal headers make an equal layout
  headers jsonb not null,
  headers_hash bytea not null unique,
  reading jsonb not null,
  sensor text,
  used int not null default 0,
  changed_at timestamptz not null default now()
);

-- What a benchmark program said of a run, and the file it stood in.
create table run_results (
  run_id bigint not null references runs on delete cascade,
  sha256 bytea not null references log_files,
  name text not null,
  figures jsonb not null,
  -- false where other loads ran beside the program
  comparable boolean not null default true,
  added_at timestamptz not null default now(),
  primary key (run_id, sha256)
);

-- A run that was read from a display: what was typed, as it was typed. It has no files and no trace.
alter table runs add column typed jsonb;

-- Down Migration

alter table runs drop column typed;
drop table run_results;
drop table layouts;
