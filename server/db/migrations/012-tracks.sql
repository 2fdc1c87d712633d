-- Where a recording begins by its timecode, and which of several sound tracks of its file is used.
alter table source add column start_seconds double precision;
alter table source add column tracks jsonb;
alter table source add column track integer not null default 0;
