-- Up Migration
alter table studies drop constraint studies_scatter_check;
alter table studies add constraint studies_scatter_check check (scatter in ('auto', 'pooled', 'separate', 'strict'));

-- Down Migration
update studies set scatter = 'separate' where scatter = 'strict';
alter table studies drop constraint studies_scatter_check;
alter table studies add constraint studies_scatter_check check (scatter in ('auto', 'pooled', 'separate'));
