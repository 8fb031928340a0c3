-- Up Migration

-- Photographs that were taken out go for good after thirty days, as all that is deleted; those that are out already have these days from now.
update photographs set removed_at = now() where removed_at is not null;

-- Down Migration

select 1;
