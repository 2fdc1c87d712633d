-- An upload's SHA-256 once all of it has arrived, and what it repeats: it waits for a person's word then.
alter table upload add column hash text;
alter table upload add column duplicate_of text;

-- A hand-over as a list that is worked off: what was done of it is not done again.
alter table handover add column masters jsonb;
alter table handover add column head bigint;
