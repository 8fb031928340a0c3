-- Up Migration

-- Counts the changes of everything that a study's figures rest on, so that what was computed of it once is kept until something of it
-- changes. Triggers count, so that no way of writing can forget to.
create table study_versions (
  study_id bigint primary key references all_studies on delete cascade,
  version bigint not null default 1,
  -- counts those that touch its runs or where they stand, which the lab's scatter is told from
  runs_version bigint not null default 1,
  -- version at which the uses below were written down
  uses_version bigint not null default 0
);
create index study_versions_stale on study_versions (study_id) where uses_version < version;
insert into study_versions (study_id) select id from all_studies;

-- What a study used of the shelf: materials and coolers by its specimens, rigs by its mounts.
create table kept_uses (
  study_id bigint not null references all_studies on delete cascade,
  section text not null check (section in ('materials', 'coolers', 'rigs')),
  sheet_id bigint not null,
  -- none for a rig, and for a material that always lies on a part of one
  specimen text,
  mounts int not null,
  pieces bigint not null,
  first_at timestamptz,
  last_at timestamptz,
  -- of a rig: mounts with a permanent material, and the newest run
  permanent int not null,
  last_run_id bigint
);
create index kept_uses_study on kept_uses (study_id);
create index kept_uses_sheet on kept_uses (section, sheet_id);

-- What was computed of a study, by what it rests on.
create table kept_answers (
  study_id bigint not null references all_studies on delete cascade,
  task text not null check (length(task) between 1 and 40),
  key text not null check (length(key) between 1 and 200),
  answer bytea not null,
  kept_at timestamptz not null default now(),
  primary key (study_id, task)
);

create function touch_studies(ids bigint[], of_runs int) returns void language sql as $$
  insert into study_versions (study_id)
  select s.id from all_studies s where s.id = any (ids) order by s.id
  on conflict (study_id) do update set version = study_versions.version + 1, runs_version = study_versions.runs_version + of_runs
$$;

-- Three triggers of a table: each gives the studies that its changed rows belong to, by a query of `changed`.
create function count_changes(name text, studies text) returns void language plpgsql as $$
declare
  event text;
  source text;
  tables text;
begin
  foreach event in array array['insert', 'update', 'delete'] loop
    source := case event
      when 'insert' then 'select * from after_it'
      when 'delete' then 'select * from before_it'
      else 'select * from before_it union all select * from after_it' end;
    tables := case event
      when 'insert' then 'new table as after_it'
      when 'delete' then 'old table as before_it'
      else 'old table as before_it new table as after_it' end;
    execute format('create function %I() returns trigger language plpgsql as $body$ begin
        perform touch_studies(array(with changed as (%s) %s), %s); return null; end $body$',
      name || '_' || event || '_counts', source, studies, (name in ('all_specimens', 'all_mounts', 'all_runs'))::int);
    execute format('create trigger %I after %s on %I referencing %s for each statement execute function %I()',
      name || '_' || event || '_counts', event, name, tables, name || '_' || event || '_counts');
  end loop;
end $$;

select count_changes('all_studies', 'select c.id from changed c');
select count_changes('all_specimens', 'select c.study_id from changed c');
select count_changes('all_planned_mounts', 'select c.study_id from changed c');
select count_changes('all_mounts', 'select s.study_id from changed c join all_specimens s on s.id = c.specimen_id');
select count_changes('all_mount_attempts',
  'select s.study_id from changed c join all_mounts m on m.id = c.mount_id join all_specimens s on s.id = m.specimen_id');
select count_changes('all_runs',
  'select s.study_id from changed c join all_mounts m on m.id = c.mount_id join all_specimens s on s.id = m.specimen_id');
select count_changes('run_results', 'select s.study_id from changed c join all_runs r on r.id = c.run_id
  join all_mounts m on m.id = r.mount_id join all_specimens s on s.id = m.specimen_id');
select count_changes('rigs', 'select s.study_id from changed c join all_mounts m on m.rig_id = c.id
  join all_specimens s on s.id = m.specimen_id
  union select p.study_id from changed c join all_planned_mounts p on p.rig_id = c.id
  union select s.id from changed c join all_studies s on s.plan -> ''rigs'' @> to_jsonb(c.id)');
select count_changes('materials', 'select s.study_id from changed c join all_specimens s on s.material_id = c.id');
select count_changes('coolers', 'select s.study_id from changed c join all_specimens s on s.cooler_id = c.id
  union select s.study_id from changed c join rigs g on g.sheet -> ''cooler_id'' = to_jsonb(c.id) join all_mounts m on m.rig_id = g.id
  join all_specimens s on s.id = m.specimen_id');

-- How a run asks for a look: 3 for a decision, 2 for a rejection, 1 for a warning, 0 for none; told by its findings.
alter table all_runs add column waits smallint not null default 0,
  -- time between two readings, to list the fastest logs first
  add column period_s double precision generated always as ((result ->> 'period_s')::double precision) stored;
update all_runs r set waits = f.waits from (
  select run_id, max(case severity when 'decide' then 3 when 'reject' then 2 when 'warn' then 1 else 0 end) as waits
  from findings group by run_id
) f where f.run_id = r.id and f.waits > 0;
select show_kept('runs');

create function told_waits(ids bigint[]) returns void language sql as $$
  update all_runs r set waits = f.waits
  from (select u.id, coalesce(max(case f.severity when 'decide' then 3 when 'reject' then 2 when 'warn' then 1 else 0 end), 0) as waits
        from unnest(ids) u(id) left join findings f on f.run_id = u.id group by u.id) f
  where r.id = f.id and r.waits <> f.waits
$$;
create function findings_insert_waits() returns trigger language plpgsql as $$
begin perform told_waits(array(select distinct run_id from after_it)); return null; end $$;
create function findings_delete_waits() returns trigger language plpgsql as $$
begin perform told_waits(array(select distinct run_id from before_it)); return null; end $$;
create trigger findings_insert_waits after insert on findings referencing new table as after_it
  for each statement execute function findings_insert_waits();
create trigger findings_update_waits after update on findings referencing new table as after_it
  for each statement execute function findings_insert_waits();
create trigger findings_delete_waits after delete on findings referencing old table as before_it
  for each statement execute function findings_delete_waits();

-- Lots that were written down at a try, to be searched.
alter table all_mount_attempts add column lots text not null
  generated always as (translate(jsonb_path_query_array(steps, '$.*.records.lot')::text, '[]"', '')) stored;
select show_kept('mount_attempts');

create index runs_waiting on all_runs (waits desc, id desc)
  where waits > 0 and judged <> 'excluded' and (waits = 3 or judged = 'open') and binned is null;
create index runs_by_period on all_runs (round(period_s::numeric, 1), started_at desc nulls last, id desc) where binned is null;
create index mounts_rig on all_mounts (rig_id);
create index specimens_material on all_specimens (material_id) where material_id is not null;
create index specimens_cooler on all_specimens (cooler_id) where cooler_id is not null;
create index planned_mounts_rig on all_planned_mounts (rig_id);

-- Down Migration

drop index runs_waiting, runs_by_period, mounts_rig, specimens_material, specimens_cooler, planned_mounts_rig;
drop trigger findings_insert_waits on findings;
drop trigger findings_update_waits on findings;
drop trigger findings_delete_waits on findings;
drop function findings_insert_waits, findings_delete_waits, told_waits;
drop view mount_attempts;
alter table all_mount_attempts drop column lots;
select show_kept('mount_attempts');
drop view runs;
alter table all_runs drop column waits, drop column period_s;
select show_kept('runs');
do $$
declare
  name text;
  event text;
begin
  foreach name in array array['all_studies', 'all_specimens', 'all_planned_mounts', 'all_mounts', 'all_mount_attempts', 'all_runs',
      'run_results', 'rigs', 'materials', 'coolers'] loop
    foreach event in array array['insert', 'update', 'delete'] loop
      execute format('drop trigger %I on %I', name || '_' || event || '_counts', name);
      execute format('drop function %I', name || '_' || event || '_counts');
    end loop;
  end loop;
end $$;
drop function count_changes, touch_studies;
drop table kept_answers, kept_uses, study_versions;
