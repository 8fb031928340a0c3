-- Up Migration

-- What was deleted, for thirty days: the thing, and the mark by which all that went with it comes back or goes for good.
create table bin (
  id bigint generated always as identity primary key,
  kind text not null check (kind in ('study', 'specimen', 'mount', 'try', 'run', 'note', 'draft')),
  subject_id bigint not null,
  -- as it was called, and what went with it
  title text not null check (length(title) between 1 and 400),
  contents text not null default '' check (length(contents) <= 400),
  who text not null default '' check (length(who) <= 20),
  reason text not null default '' check (length(reason) <= 500),
  deleted_at timestamptz not null default now(),
  -- what comes back with it and stands in no table of its own
  payload jsonb
);
alter table bin add column study_id bigint references studies on delete cascade;
create index bin_study on bin (study_id);
create index bin_deleted on bin (deleted_at);

-- The tables hold what is there and what lies in the bin. Everything but the bin reads and writes the views of their old names, which show
-- what is there. A migration that adds a column to one of these tables calls show_kept for it.
create function show_kept(name text) returns void language plpgsql as $$
declare
  cols text;
begin
  select string_agg(quote_ident(column_name), ', ' order by ordinal_position) into cols
  from information_schema.columns where table_schema = current_schema() and table_name = 'all_' || name and column_name <> 'binned';
  execute format('create or replace view %I as select %s from %I where binned is null', name, cols, 'all_' || name);
end $$;

drop view placed_mounts;
alter table studies add column archived_at timestamptz;
do $$
declare
  t text;
begin
  foreach t in array array['studies', 'specimens', 'planned_mounts', 'mounts', 'mount_attempts', 'runs', 'run_notes'] loop
    execute format('alter table %I rename to %I', t, 'all_' || t);
    execute format('alter table %I add column binned bigint references bin on delete cascade', 'all_' || t);
    execute format('create index %I on %I (binned) where binned is not null', t || '_binned', 'all_' || t);
    perform show_kept(t);
  end loop;
end $$;
alter table all_studies drop constraint studies_title_key;
create unique index studies_title_key on all_studies (title) where binned is null;
alter table all_specimens drop constraint specimens_study_id_name_key, drop constraint specimens_study_id_position_key;
create unique index specimens_study_id_name_key on all_specimens (study_id, name) where binned is null;
create unique index specimens_study_id_position_key on all_specimens (study_id, position) where binned is null;
create index specimens_study on all_specimens (study_id);
alter table all_planned_mounts drop constraint planned_mounts_specimen_id_number_key;
create unique index planned_mounts_specimen_id_number_key on all_planned_mounts (specimen_id, number) where binned is null;
alter table all_mounts drop constraint mounts_specimen_id_number_key;
create unique index mounts_specimen_id_number_key on all_mounts (specimen_id, number) where binned is null;
create index mounts_specimen on all_mounts (specimen_id);
alter table all_mount_attempts drop constraint mount_attempts_mount_id_number_key;
create unique index mount_attempts_mount_id_number_key on all_mount_attempts (mount_id, number) where binned is null;
drop index mount_attempts_open;
create unique index mount_attempts_open on all_mount_attempts (mount_id) where outcome is null and binned is null;
alter table all_runs drop constraint runs_mount_id_number_key;
create unique index runs_mount_id_number_key on all_runs (mount_id, number) where binned is null;
create index runs_mount on all_runs (mount_id);

create view placed_mounts as
select m.id as mount_id, m.number as mount, m.excluded_reason, m.rig_id, g.name as rig, m.specimen_id, sp.name as specimen,
       sp.position as specimen_position, sp.kind, sp.study_id, st.title as study, m.failed_cause
from mounts m join rigs g on g.id = m.rig_id join specimens sp on sp.id = m.specimen_id join studies st on st.id = sp.study_id;

-- Down Migration

drop view placed_mounts;
drop index specimens_study, mounts_specimen, runs_mount;
do $$
declare
  t text;
begin
  foreach t in array array['run_notes', 'runs', 'mount_attempts', 'mounts', 'planned_mounts', 'specimens', 'studies'] loop
    execute format('delete from %I where binned is not null', 'all_' || t);
    execute format('drop view %I', t);
    execute format('alter table %I drop column binned', 'all_' || t);
    execute format('alter table %I rename to %I', 'all_' || t, t);
  end loop;
end $$;
drop function show_kept;
drop table bin;
alter table studies add constraint studies_title_key unique (title);
alter table specimens add constraint specimens_study_id_name_key unique (study_id, name),
  add constraint specimens_study_id_position_key unique (study_id, position);
alter table planned_mounts add constraint planned_mounts_specimen_id_number_key unique (specimen_id, number);
alter table mounts add constraint mounts_specimen_id_number_key unique (specimen_id, number);
alter table mount_attempts add constraint mount_attempts_mount_id_number_key unique (mount_id, number);
create unique index mount_attempts_open on mount_attempts (mount_id) where outcome is null;
alter table runs add constraint runs_mount_id_number_key unique (mount_id, number);
alter table studies drop column archived_at;
create view placed_mounts as
select m.id as mount_id, m.number as mount, m.excluded_reason, m.rig_id, g.name as rig, m.specimen_id, sp.name as specimen,
       sp.position as specimen_position, sp.kind, sp.study_id, st.title as study, m.failed_cause
from mounts m join rigs g on g.id = m.rig_id join specimens sp on sp.id = m.specimen_id join studies st on st.id = sp.study_id;
