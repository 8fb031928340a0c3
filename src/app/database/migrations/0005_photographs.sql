-- Up Migration

-- A photograph taken at a mount: of a print, with how it was read and what it shows, or of anything seen.
create table photographs (
  id bigint generated always as identity primary key,
  mount_id bigint not null references mounts on delete cascade,
  taken_at timestamptz not null default now(),
  who text not null default '' check (length(who) <= 20),
  caption text not null default '' check (length(caption) <= 200),
  -- turned upright, without place or device of its taking
  jpeg bytea not null,
  width int not null check (width > 0),
  height int not null check (height > 0),
  -- of a print alone: the face, the domain's PrintReading and PrintFigures, and the part seen straight from above
  face text check (face in ('part', 'base')),
  reading jsonb,
  figures jsonb,
  view_jpeg bytea,
  -- taken out of the mount's record, to be put back
  removed_at timestamptz,
  check ((face is null) = (reading is null) and (face is null) = (figures is null) and (face is null) = (view_jpeg is null))
);
create index photographs_mount on photographs (mount_id);

-- Down Migration

drop table photographs;
