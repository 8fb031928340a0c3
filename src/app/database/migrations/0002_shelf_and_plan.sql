-- Up Migration

-- What lies on the shelf. A sheet's fields are checked by the classes of the domain; the name is what studies and files know it by.
create table materials (
  id bigint generated always as identity primary key,
  name text not null unique check (length(name) between 1 and 80),
  sheet jsonb not null default '{}' check (jsonb_typeof(sheet) = 'object'),
  -- counts the saves, so that two people do not overwrite each other
  version int not null default 1,
  archived_at timestamptz,
  created_at timestamptz not null default now()
);
create table coolers (like materials including all);
create table fans (like materials including all);
create table instruments (like materials including all);

-- A rig's limit and heat source now stand on its sheet like all its fields; queries go on reading them as columns.
alter table rigs add column sheet jsonb not null default '{}' check (jsonb_typeof(sheet) = 'object'),
  add column version int not null default 1,
  add column archived_at timestamptz;
update rigs set sheet = jsonb_strip_nulls(jsonb_build_object('heat_source', nullif(heat_source, ''), 'throttle_limit_c', throttle_limit_c));
alter table rigs drop column heat_source, drop column throttle_limit_c;
alter table rigs add column heat_source text not null generated always as (coalesce(sheet ->> 'heat_source', '')) stored,
  add column throttle_limit_c double precision generated always as ((sheet ->> 'throttle_limit_c')::double precision) stored;

alter table specimens add column material_id bigint references materials,
  add column cooler_id bigint references coolers,
  -- what this specimen differs in besides the factor, and what is supposed of it: fields of the domain's SpecimenPlan
  add column plan jsonb not null default '{}' check (jsonb_typeof(plan) = 'object');

alter table studies add column plan jsonb not null default '{}' check (jsonb_typeof(plan) = 'object'),
  -- version of the plan, and the version at which each field last changed, so that two people see each other's changes
  add column plan_version int not null default 1,
  add column plan_stamps jsonb not null default '{}';

create table planned_mounts (
  id bigint generated always as identity primary key,
  study_id bigint not null references studies on delete cascade,
  specimen_id bigint not null references specimens on delete cascade,
  rig_id bigint not null references rigs,
  number int not null check (number > 0),
  day int not null check (day > 0),
  -- place in the list of the study
  position int not null check (position >= 0),
  extra boolean not null,
  state text not null default 'planned' check (state in ('planned', 'done', 'failed', 'lost')),
  reason text not null default '' check (length(reason) <= 500),
  unique (specimen_id, number)
);
create index planned_mounts_study on planned_mounts (study_id, position);

-- Down Migration

drop table planned_mounts;
alter table studies drop column plan, drop column plan_version, drop column plan_stamps;
alter table specimens drop column material_id, drop column cooler_id, drop column plan;
alter table rigs drop column heat_source, drop column throttle_limit_c;
alter table rigs add column heat_source text not null default '' check (length(heat_source) <= 200),
  add column throttle_limit_c double precision check (throttle_limit_c between 0 and 300);
update rigs set heat_source = coalesce(sheet ->> 'heat_source', ''), throttle_limit_c = (sheet ->> 'throttle_limit_c')::double precision;
alter table rigs drop column sheet, drop column version, drop column archived_at;
drop table instruments, fans, coolers, materials;
