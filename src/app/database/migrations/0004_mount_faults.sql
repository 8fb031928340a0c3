-- Up Migration

-- A fault that shows after a mount was made: it stays with the mount, and its earlier runs are flagged.
create table mount_faults (
  id bigint generated always as identity primary key,
  mount_id bigint not null references mounts on delete cascade,
  kind text not null check (kind in ('part_vanished', 'crash', 'freeze_when_moved', 'leak', 'other')),
  note text not null check (length(note) between 1 and 500),
  who text not null default '' check (length(who) <= 20),
  reported_at timestamptz not null default now(),
  -- looked at under magnification
  inspected_at timestamptz,
  -- moved and pressed after the repair, without the fault coming back
  moved_at timestamptz
);
create index mount_faults_mount on mount_faults (mount_id);

-- Down Migration

drop table mount_faults;
