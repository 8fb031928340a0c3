-- Up Migration

-- Clips of a cooler at a fan speed, to be heard beside others.
create table sound_clips (
  id bigint generated always as identity primary key,
  specimen_id bigint not null references specimens on delete cascade,
  name text not null check (length(name) between 1 and 200),
  -- what its first bytes say it is
  kind text not null check (kind in ('audio/wav', 'audio/ogg', 'audio/flac', 'audio/mpeg', 'audio/mp4')),
  rpm double precision check (rpm > 0),
  level_db double precision check (level_db between 0 and 140),
  note text not null default '' check (length(note) <= 200),
  bytes bytea not null,
  added_at timestamptz not null default now(),
  -- taken out, to be put back
  removed_at timestamptz
);
create index sound_clips_specimen on sound_clips (specimen_id);

-- Down Migration

drop table sound_clips;
