-- Up Migration

-- A mount that was judged failed by its temperatures: it is left out with its reason, keeps its runs, and counts as a failed application.
alter table mounts add column failed_cause text check (length(failed_cause) between 1 and 40);
alter table mounts add check (failed_cause is null or excluded_reason is not null);
create or replace view placed_mounts as
select m.id as mount_id, m.number as mount, m.excluded_reason, m.rig_id, g.name as rig, m.specimen_id, sp.name as specimen,
       sp.position as specimen_position, sp.kind, sp.study_id, st.title as study, m.failed_cause
from mounts m join rigs g on g.id = m.rig_id join specimens sp on sp.id = m.specimen_id join studies st on st.id = sp.study_id;

alter table mount_attempts drop constraint mount_attempts_outcome_check;
alter table mount_attempts add constraint mount_attempts_outcome_check
  check (outcome in ('ready', 'no_start', 'part_missing', 'tilted', 'leaked', 'too_hot', 'spread', 'remounted'));
-- why a try failed: the domain's FailureCause
alter table mount_attempts add column cause text check (length(cause) between 1 and 40);

-- What an upgrade changed in a study, told until a person has seen it.
create table notices (
  id bigint generated always as identity primary key,
  study_id bigint not null references studies on delete cascade,
  message text not null check (length(message) between 1 and 2000),
  told_at timestamptz not null default now(),
  seen_at timestamptz
);
create index notices_study on notices (study_id);

-- A cooler that was lifted and put on again is a new mount. What stood as further tries of one mount becomes mounts of their own, with the
-- runs, photographs, faults and openings from then on.
create temporary table lifts (old_id bigint, fresh_id bigint, from_at timestamptz) on commit drop;
do $$
declare
  a record;
  old_id bigint := 0;
  own bigint;
  since timestamptz;
  was_ready boolean;
begin
  for a in
    select t.*, m.specimen_id, m.rig_id, m.number as mount_number, m.excluded_reason, m.excluded_by, m.excluded_at
    from mount_attempts t join mounts m on m.id = t.mount_id order by t.mount_id, t.number
  loop
    if a.mount_id <> old_id then
      old_id := a.mount_id;
      own := a.mount_id;
      since := '-infinity';
      was_ready := false;
    end if;
    if was_ready and exists (
      select from runs r where r.mount_id = old_id
      and case when r.started_zoned then coalesce(r.started_at, r.created_at)
               -- a clock without zone may be off by hours; it tells a time that lies farther back
               when r.started_at < r.created_at - interval '14 hours' then r.started_at else r.created_at end >= since
      and case when r.started_zoned then coalesce(r.started_at, r.created_at)
               when r.started_at < r.created_at - interval '14 hours' then r.started_at else r.created_at end < a.begun_at)
    then
      insert into mounts (specimen_id, rig_id, number, note, created_at, excluded_reason, excluded_by, excluded_at)
      select a.specimen_id, a.rig_id, max(number) + 1, '', a.begun_at, a.excluded_reason, a.excluded_by, a.excluded_at
      from mounts where specimen_id = a.specimen_id
      returning id into own;
      since := a.begun_at;
      insert into lifts values (old_id, own, since);
    end if;
    was_ready := a.outcome = 'ready';
    if own <> old_id then
      update mount_attempts set mount_id = own, number = 1 + (select count(*) from mount_attempts where mount_id = own) where id = a.id;
    end if;
  end loop;
end $$;

create temporary table moved_runs on commit drop as
select r.id as run_id, l.fresh_id, row_number() over (partition by l.fresh_id order by r.number) as number
from runs r cross join lateral (
  select fresh_id from lifts where old_id = r.mount_id
  and from_at <= case when r.started_zoned then coalesce(r.started_at, r.created_at)
                      when r.started_at < r.created_at - interval '14 hours' then r.started_at else r.created_at end
  order by from_at desc limit 1) l;
update runs r set mount_id = m.fresh_id, number = m.number from moved_runs m where m.run_id = r.id;
update photographs p set mount_id = (select fresh_id from lifts where old_id = p.mount_id and from_at <= p.taken_at order by from_at desc limit 1)
where exists (select from lifts where old_id = p.mount_id and from_at <= p.taken_at);
update mount_faults f set mount_id = (select fresh_id from lifts where old_id = f.mount_id and from_at <= f.reported_at order by from_at desc limit 1)
where exists (select from lifts where old_id = f.mount_id and from_at <= f.reported_at);
update mount_openings o set mount_id = (select fresh_id from lifts where old_id = o.mount_id and from_at <= o.opened_at order by from_at desc limit 1)
where exists (select from lifts where old_id = o.mount_id and from_at <= o.opened_at);
update live_runs v set mount_id = (select fresh_id from lifts where old_id = v.mount_id and from_at <= v.started_at order by from_at desc limit 1)
where exists (select from lifts where old_id = v.mount_id and from_at <= v.started_at);

insert into changes (subject, subject_id, action, reason, before, after)
select 'mount', l.fresh_id, 'part', 'Lifted and put on again: a mount of its own', to_jsonb(o.number), to_jsonb(f.number)
from lifts l join mounts o on o.id = l.old_id join mounts f on f.id = l.fresh_id;
insert into notices (study_id, message)
select sp.study_id,
       sp.name || ', mount ' || o.number || ', was lifted and put on again, and its runs before and after were averaged as one mount. '
       || 'What came after a lift is now mount ' || string_agg(f.number::text, ', ' order by f.number)
       || '. Means, scatter and verdicts of this study are told anew; reports that were published stay as they were.'
from lifts l join mounts o on o.id = l.old_id join mounts f on f.id = l.fresh_id join specimens sp on sp.id = o.specimen_id
group by sp.study_id, sp.name, o.id, o.number;

-- Down Migration

drop table notices;
alter table mount_attempts drop column cause;
update mount_attempts set outcome = 'remounted' where outcome in ('too_hot', 'spread');
alter table mount_attempts drop constraint mount_attempts_outcome_check;
alter table mount_attempts add constraint mount_attempts_outcome_check
  check (outcome in ('ready', 'no_start', 'part_missing', 'tilted', 'leaked', 'remounted'));
drop view placed_mounts;
alter table mounts drop column failed_cause;
create view placed_mounts as
select m.id as mount_id, m.number as mount, m.excluded_reason, m.rig_id, g.name as rig, m.specimen_id, sp.name as specimen,
       sp.position as specimen_position, sp.kind, sp.study_id, st.title as study
from mounts m join rigs g on g.id = m.rig_id join specimens sp on sp.id = m.specimen_id join studies st on st.id = sp.study_id;
