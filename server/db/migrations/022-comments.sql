-- What the team says to one another of items and their times. Times are frames of the recording, as those of markers are.
create table comment (
  id uuid primary key default gen_random_uuid(),
  project_id uuid not null references project (id) on delete cascade,
  item_id text not null,
  start_frame bigint,
  end_frame bigint,
  -- The comment that it answers.
  thread uuid references comment (id) on delete cascade,
  person_id uuid references person (id) on delete set null,
  name text not null,
  words text not null,
  created_at timestamptz not null default now(),
  resolved_at timestamptz,
  resolved_by text
);
create index on comment (project_id, created_at);
