-- Up Migration

-- Where a study came from that was measured elsewhere: what its package says, what this program found when it computed it anew, and the scatter
-- of the lab that measured it, which its single mounts are judged by.
create table study_origins (
  study_id bigint primary key references all_studies on delete cascade,
  imported_at timestamptz not null default now(),
  who text not null default '' check (length(who) <= 20),
  lab text not null default '' check (length(lab) <= 120),
  -- measured by this lab, on another machine: counts as its own
  own boolean not null default false,
  sha256 text not null check (sha256 ~ '^[0-9a-f]{64}$'),
  program text not null default '' check (length(program) <= 80),
  packaged_at timestamptz,
  lab_scatter jsonb not null default '[]' check (jsonb_typeof(lab_scatter) = 'array'),
  differences jsonb not null default '[]' check (jsonb_typeof(differences) = 'array'),
  unchecked jsonb not null default '[]' check (jsonb_typeof(unchecked) = 'array')
);
select count_changes('study_origins', 'select study_id from changed');

-- The bench day by the calendar of the lab that measured a run, where that is not this machine's.
alter table all_runs add column bench_day date;
select show_kept('runs');

-- Down Migration

drop table study_origins;
drop function study_origins_insert_counts, study_origins_update_counts, study_origins_delete_counts;
drop view runs;
alter table all_runs drop column bench_day;
select show_kept('runs');
