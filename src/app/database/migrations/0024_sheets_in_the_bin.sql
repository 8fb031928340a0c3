-- Up Migration

-- A sheet of the shelf that nothing uses goes into the bin too; its row is kept as it was.
alter table bin drop constraint bin_kind_check;
alter table bin add constraint bin_kind_check check (kind in ('study', 'specimen', 'mount', 'try', 'run', 'note', 'draft', 'sheet'));

-- Down Migration

delete from bin where kind = 'sheet';
alter table bin drop constraint bin_kind_check;
alter table bin add constraint bin_kind_check check (kind in ('study', 'specimen', 'mount', 'try', 'run', 'note', 'draft'));
