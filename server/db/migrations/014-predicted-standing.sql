-- How many of a project's masters are predicted inside their specs, and outside; with what that was told by.
alter table project add column predicted jsonb;
