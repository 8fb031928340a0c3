-- Up Migration

-- What was found when a mount was opened again after a time; photographs of it lie with the mount.
create table mount_openings (
  id bigint generated always as identity primary key,
  mount_id bigint not null references mounts on delete cascade,
  found text[] not null check (
    cardinality(found) between 1 and 6
    and found <@ array['as_made', 'dry', 'pumped_out', 'leaked', 'corroded', 'shifted']
  ),
  note text not null default '' check (length(note) <= 500),
  who text not null default '' check (length(who) <= 20),
  opened_at timestamptz not null default now(),
  -- taken out of the record, to be put back
  removed_at timestamptz
);
create index mount_openings_mount on mount_openings (mount_id);

-- Down Migration

drop table mount_openings;
