-- Up Migration

-- The verdicts that recommendations rest on are kept as sentences; they are worded as verdicts are now, so that a change of words is no change
-- of a verdict. Published reports stay as they are, byte for byte.
update recommendations set rests_on = replace(replace(replace(replace(rests_on::text,
  'leans on the scatter assumption', 'depends on the method'),
  'are tied within ', 'are equivalent within ±'),
  'whatever the school', 'whatever the method'),
  'cannot be told apart by this', 'cannot be distinguished by this')::jsonb;

-- Down Migration

update recommendations set rests_on = replace(replace(replace(replace(rests_on::text,
  'depends on the method', 'leans on the scatter assumption'),
  'are equivalent within ±', 'are tied within '),
  'whatever the method', 'whatever the school'),
  'cannot be distinguished by this', 'cannot be told apart by this')::jsonb;
