-- Up Migration

-- What is done to the machine itself in a try: the domain's WorkKind keys.
alter table mount_attempts add column work text[] not null default '{}';
-- How a rig is taken apart: the domain's TeardownStep in order; read backwards it is how it is put together.
alter table rigs add column teardown jsonb not null default '[]' check (jsonb_typeof(teardown) = 'array');
alter table rigs add column teardown_version int not null default 0;
-- a photograph may show a step of taking a rig apart
alter table photographs alter column mount_id drop not null;
alter table photographs add column rig_id bigint references rigs on delete cascade;
alter table photographs add check (num_nonnulls(mount_id, rig_id) = 1);
create index photographs_rig on photographs (rig_id) where rig_id is not null;

-- Down Migration

delete from photographs where rig_id is not null;
alter table photographs drop column rig_id;
alter table photographs alter column mount_id set not null;
alter table rigs drop column teardown_version;
alter table rigs drop column teardown;
alter table mount_attempts drop column work;
