-- Up Migration

-- Which of the study's named loads a run was made under; null where the study names one or none.
alter table runs add column load text check (length(load) between 1 and 60);

-- Who left a mount out, and when; the reason stands beside it.
alter table mounts add column excluded_by text not null default '' check (length(excluded_by) <= 20), add column excluded_at timestamptz;

-- Mounts of a finished study at which its verdicts were shown: what is added later was added with them known.
create table verdicts_shown (
  study_id bigint not null references studies on delete cascade,
  mounts int not null,
  shown_at timestamptz not null default now(),
  primary key (study_id, mounts)
);

-- The tester's own words for a kind of reader, with the verdicts they rest on as these were when the words were written.
create table recommendations (
  id bigint generated always as identity primary key,
  study_id bigint not null references studies on delete cascade,
  position int not null,
  reader text not null check (length(reader) between 1 and 80),
  words text not null check (length(words) between 1 and 1000),
  rests_on jsonb not null default '[]' check (jsonb_typeof(rests_on) = 'array'),
  saved_at timestamptz not null default now()
);
create index recommendations_study on recommendations (study_id, position);

-- How a study's report is put together: order and words of its sections.
create table report_drafts (
  study_id bigint primary key references studies on delete cascade,
  sections jsonb not null check (jsonb_typeof(sections) = 'array'),
  version int not null default 1
);

-- A report as it was published: all it says and shows, unchangeable, at an address of its own.
create table reports (
  id bigint generated always as identity primary key,
  study_id bigint not null references studies on delete cascade,
  number int not null check (number > 0),
  address text not null unique check (address ~ '^[a-z0-9-]{4,80}$'),
  -- the text the checksum is of, byte for byte
  content text not null,
  sha256 text not null check (sha256 ~ '^[0-9a-f]{64}$'),
  changes jsonb not null default '[]',
  who text not null default '' check (length(who) <= 20),
  frozen_at timestamptz not null default now(),
  unique (study_id, number)
);

-- Down Migration

drop table reports, report_drafts, recommendations, verdicts_shown;
alter table mounts drop column excluded_by, drop column excluded_at;
alter table runs drop column load;
