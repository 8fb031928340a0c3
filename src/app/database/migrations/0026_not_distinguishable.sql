-- Up Migration

-- The verdicts that recommendations rest on are worded as verdicts are now, so that a change of words is no change of a verdict.
update recommendations set rests_on = replace(rests_on::text, ' are unresolved: ', ' are not distinguishable: ')::jsonb;

-- Down Migration

update recommendations set rests_on = replace(rests_on::text, ' are not distinguishable: ', ' are unresolved: ')::jsonb;
