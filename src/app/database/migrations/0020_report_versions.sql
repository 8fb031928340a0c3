-- Up Migration

-- Whose report a version is, as a reader cites it; and whether it was withdrawn, by whom and why. Its content never changes.
alter table reports add column author text not null default '' check (length(author) <= 120),
  add column withdrawn_at timestamptz,
  add column withdrawn_by text not null default '' check (length(withdrawn_by) <= 20),
  add column withdrawn_reason text not null default '' check (length(withdrawn_reason) <= 500);
alter table reports add check (withdrawn_at is null or withdrawn_reason <> '');

-- Down Migration

alter table reports drop column author, drop column withdrawn_at, drop column withdrawn_by, drop column withdrawn_reason;
