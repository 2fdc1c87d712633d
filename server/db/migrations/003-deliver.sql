-- Items after their chain, by everything that decides their samples: what all masters of an item are made from.
create table work (
  id uuid primary key default gen_random_uuid(),
  key text not null,
  inputs jsonb not null,
  state text not null default 'waiting' check (state in ('waiting', 'done')),
  pcm_hash text,
  overview_hash text,
  figures jsonb,
  used_at timestamptz not null default now()
);
create unique index work_once on work (md5(key));

-- Its segments, each taken by one worker at a time; a worker that is gone stops renewing its claim.
create table work_segment (
  work_id uuid not null references work (id) on delete cascade,
  -- −1 stands for joining them.
  index integer not null,
  state text not null default 'waiting' check (state in ('waiting', 'taken', 'done')),
  pcm_hash text,
  taken_at timestamptz,
  primary key (work_id, index)
);

-- What was handed over, and what was said to each file.
create table handover (
  id uuid primary key default gen_random_uuid(),
  project_id uuid not null references project (id),
  receiver text not null,
  deliverable_id text not null,
  state text not null default 'waiting' check (state in ('waiting', 'accepted', 'refused', 'failed')),
  problem text,
  files jsonb not null default '[]',
  asked_at timestamptz not null default now()
);
create index handover_of_project on handover (project_id, asked_at desc);

-- The sound before it was encoded, and what reports draw.
alter table master add column sound_hash text;
alter table master add column drawings jsonb;
