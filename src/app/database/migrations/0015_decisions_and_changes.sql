-- Up Migration

-- A finding may wait for a person's decision.
alter table findings drop constraint findings_severity_check;
alter table findings add constraint findings_severity_check check (severity in ('note', 'warn', 'decide', 'reject'));

-- The journal of changes: who changed what of a thing from what to what, when and why. It is only ever added to; a change that takes
-- another
-- back names it.
create table changes (
  id bigint generated always as identity primary key,
  at timestamptz not null default now(),
  who text not null default '' check (length(who) <= 20),
  subject text not null check (length(subject) between 1 and 30),
  subject_id bigint not null,
  action text not null check (length(action) between 1 and 30),
  reason text not null default '' check (length(reason) <= 500),
  before jsonb,
  after jsonb,
  undoes bigint unique references changes
);
create index changes_subject on changes (subject, subject_id, id);

insert into changes (at, who, subject, subject_id, action, reason, before, after)
select at, who, 'run', run_id, action, reason, before, after from run_judgements order by id;
insert into changes (at, who, subject, subject_id, action, reason, before, after)
select coalesce(excluded_at, now()), coalesce(excluded_by, ''), 'mount', id, 'exclude', excluded_reason, 'null', to_jsonb(excluded_reason)
from mounts where excluded_reason is not null;
drop table run_judgements;

create function refuse_change() returns trigger language plpgsql as $$
begin
  raise exception 'The journal of changes is only added to.';
end $$;
create trigger changes_only_added before update or delete on changes for each row execute function refuse_change();

-- A choice that nothing read.
update studies set plan = plan - 'odd_school' where plan ? 'odd_school';

-- Down Migration

create table run_judgements (
  id bigint generated always as identity primary key,
  run_id bigint not null references runs on delete cascade,
  at timestamptz not null default now(),
  who text not null default '' check (length(who) <= 20),
  action text not null,
  reason text not null default '' check (length(reason) <= 500),
  before jsonb not null,
  after jsonb not null
);
create index run_judgements_run on run_judgements (run_id);
insert into run_judgements (run_id, at, who, action, reason, before, after)
select subject_id, at, who, action, reason, before, after from changes
where subject = 'run' and action in ('accept', 'exclude', 'reopen', 'window', 'automatic') and exists (select from runs where id = subject_id) order by id;
drop table changes;
drop function refuse_change;
delete from findings where severity = 'decide';
alter table findings drop constraint findings_severity_check;
alter table findings add constraint findings_severity_check check (severity in ('note', 'warn', 'reject'));
