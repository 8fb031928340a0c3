-- Up Migration

-- What a person thinks of a run: open until it is judged; an excluded one keeps its reason.
alter table runs add column judged text not null default 'open' check (judged in ('open', 'accepted', 'excluded'));
alter table runs add column excluded_reason text check (length(excluded_reason) between 1 and 500);
alter table runs add check ((judged = 'excluded') = (excluded_reason is not null));
-- The automatic reading beside one whose window was set by hand; null while the run rests on the automatic one.
alter table runs add column automatic jsonb;

-- Every judgement of a run as it was made: who, when, why, and the value before and after.
create table run_judgements (
  id bigint generated always as identity primary key,
  run_id bigint not null references runs on delete cascade,
  at timestamptz not null default now(),
  who text not null default '' check (length(who) <= 20),
  action text not null check (action in ('accept', 'exclude', 'reopen', 'window', 'automatic')),
  reason text not null default '' check (length(reason) <= 500),
  before jsonb not null,
  after jsonb not null
);
create index run_judgements_run on run_judgements (run_id);

-- A note pinned to a time of a run.
create table run_notes (
  id bigint generated always as identity primary key,
  run_id bigint not null references runs on delete cascade,
  at_s double precision not null,
  text text not null check (length(text) between 1 and 500),
  who text not null default '' check (length(who) <= 20),
  created_at timestamptz not null default now()
);
create index run_notes_run on run_notes (run_id);

-- Down Migration

drop table run_notes;
drop table run_judgements;
alter table runs drop column automatic;
alter table runs drop column excluded_reason;
alter table runs drop column judged;
