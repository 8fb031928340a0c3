-- Up Migration

-- Studies of one's own to start from: the plan and the specimens of a study as they were when it was saved, and nothing that was measured.
create table templates (
  id bigint generated always as identity primary key,
  title text not null check (length(title) between 1 and 120),
  study jsonb not null check (jsonb_typeof(study) = 'object'),
  specimens jsonb not null check (jsonb_typeof(specimens) = 'array'),
  saved_at timestamptz not null default now(),
  -- to be put back for thirty days
  deleted_at timestamptz
);
create unique index templates_title on templates (title) where deleted_at is null;

-- Down Migration

drop table templates;
