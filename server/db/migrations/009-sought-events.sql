-- What was looked for in a recording in the background after intake, and the core that looked: null where none has.
alter table source add column events jsonb;
alter table source add column events_version text;
