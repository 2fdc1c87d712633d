-- The queue: one row a job that waits or is worked on; what is finished is gone. It took pg-boss's place, which knows
-- neither shares of projects nor who holds a job.
create table job (
  id bigint generated always as identity primary key,
  queue text not null,
  -- What it is about: a source's hash, or the id of a master, an item render or a hand-over.
  subject text not null,
  -- Whose share of the workers it takes.
  project_id uuid references project (id) on delete cascade,
  -- What it is expected to take of one worker, before the queue's pace is known.
  cost_seconds real not null,
  priority integer not null default 0,
  attempts integer not null default 0,
  -- Who works on it: a token that is new each time it is taken, and how long that holds.
  lease uuid,
  leased_until timestamptz,
  worker text,
  started_at timestamptz,
  stage text,
  fraction real not null default 0,
  created_at timestamptz not null default now(),
  unique (queue, subject)
);
create index job_waiting on job (priority desc, id) where lease is null;

-- How long jobs of a queue take against what was expected of them.
create table job_pace (
  queue text primary key,
  factor real not null
);

-- Segments are held by tokens as well.
alter table work_segment add column claim uuid;

drop schema if exists pgboss cascade;
