-- Up Migration

-- Parts of a rig that share its cooler: the domain's RigPart. They are changed with the version of its sheet.
alter table rigs add column parts jsonb not null default '[]';

-- Down Migration

alter table rigs drop column parts;
