-- Up Migration

-- What the lab decided once for all: one row, each setting by its name; what is not set is as it comes.
create table settings (
  one boolean primary key default true check (one),
  given jsonb not null default '{}' check (jsonb_typeof(given) = 'object')
);
insert into settings default values;

-- Down Migration

drop table settings;
