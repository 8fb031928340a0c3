-- Up Migration

-- What a person said of set-ups: measured in the same one after all, or in another after all. A place is what one study says on one rig
-- under one load, as study/rig/cooler/load.
create table setup_choices (
  id bigint generated always as identity primary key,
  kind text not null check (kind in ('together', 'apart')),
  places jsonb not null check (jsonb_typeof(places) = 'array' and jsonb_array_length(places) between 1 and 400),
  reason text not null check (length(reason) between 1 and 400),
  who text not null default '' check (length(who) <= 20),
  made_at timestamptz not null default now()
);

-- Rankings as they were computed, by what they rest on; the newest are kept.
create table kept_rankings (
  key text primary key check (length(key) between 1 and 200),
  answer bytea not null,
  kept_at timestamptz not null default now()
);
create index kept_rankings_age on kept_rankings (kept_at desc);

-- What was edited on the shelf and when, so that a step of the bench can be laid beside it.
create table sheet_changes (
  id bigint generated always as identity primary key,
  section text not null check (section in ('rigs', 'coolers', 'instruments')),
  sheet_id bigint not null,
  at timestamptz not null default now(),
  -- fields with their value before and after; a field that is missing was empty
  before jsonb not null,
  after jsonb not null
);
create index sheet_changes_sheet on sheet_changes (section, sheet_id, at);

create function note_sheet_change() returns trigger language plpgsql as $$
begin
  insert into sheet_changes (section, sheet_id, before, after)
  select tg_table_name, new.id,
    coalesce((select jsonb_object_agg(key, value) from jsonb_each(old.sheet) where value is distinct from new.sheet -> key), '{}'),
    coalesce((select jsonb_object_agg(key, value) from jsonb_each(new.sheet) where value is distinct from old.sheet -> key), '{}');
  return null;
end $$;
-- where an instrument is reached says nothing of what it reads
create trigger rigs_noted after update on rigs for each row when (old.sheet is distinct from new.sheet) execute function note_sheet_change();
create trigger coolers_noted after update on coolers for each row when (old.sheet is distinct from new.sheet) execute function note_sheet_change();
create trigger instruments_noted after update on instruments for each row
  when (old.sheet - 'address' is distinct from new.sheet - 'address') execute function note_sheet_change();

-- Down Migration

drop trigger rigs_noted on rigs;
drop trigger coolers_noted on coolers;
drop trigger instruments_noted on instruments;
drop function note_sheet_change;
drop table sheet_changes;

drop table kept_rankings;
drop table setup_choices;
