-- Up Migration

-- Samples of old runs are packed, and later dropped, where the lab asks for it: the log they were read from stays, and so do the values and
-- what a trace is drawn from at a distance. A run without a row has its samples as they were stored.
create table run_samples (
  run_id bigint primary key references all_runs on delete cascade,
  state text not null check (state in ('whole', 'packed', 'dropped')),
  -- since when they are so; age counts from here where they were read again
  since timestamptz not null default now()
);
-- null where they were dropped
alter table trace_chunks alter column readings drop not null, add column packed boolean not null default false;
alter table time_chunks alter column t drop not null, add column packed boolean not null default false;

-- Down Migration

-- what was dropped is read again from its log by the program that dropped it, not here
do $$ begin
  if exists (select from run_samples where state <> 'whole') then
    raise exception 'Samples are packed or dropped; read them again before going back.';
  end if;
end $$;
alter table time_chunks drop column packed, alter column t set not null;
alter table trace_chunks drop column packed, alter column readings set not null;
drop table run_samples;
