-- Projects and the states of their documents: an edit adds a row, nothing is ever changed or removed by one.
create table project (
  id uuid primary key default gen_random_uuid(),
  head bigint,
  created_at timestamptz not null default now(),
  opened_at timestamptz not null default now()
);

create table project_state (
  id bigint generated always as identity primary key,
  project_id uuid not null references project (id),
  parent bigint references project_state (id),
  label text not null,
  author text not null,
  -- The edit that led here, null for the first state.
  command jsonb,
  document jsonb not null,
  -- A state with a name is a version.
  version_name text,
  created_at timestamptz not null default now()
);
create index project_state_of_project on project_state (project_id, id);
alter table project add foreign key (head) references project_state (id);

-- Recordings, by the SHA-256 of their bytes: the same file twice is stored once.
create table source (
  hash text primary key check (hash ~ '^[0-9a-f]{64}$'),
  name text not null,
  bytes bigint not null,
  state text not null default 'waiting' check (state in ('waiting', 'preparing', 'ready', 'failed')),
  problem text,
  container text,
  encoding text,
  bits integer,
  layout jsonb,
  -- Whether the layout was chosen by a person.
  layout_chosen boolean not null default false,
  pcm_hash text,
  overview_hash text,
  figures jsonb,
  warnings jsonb not null default '[]',
  created_at timestamptz not null default now()
);

-- Uploads under way or interrupted.
create table upload (
  id text primary key,
  project_id uuid not null references project (id),
  name text not null,
  bytes bigint not null,
  created_at timestamptz not null default now()
);

-- Masters, by everything that decides their bytes.
create table master (
  id uuid primary key default gen_random_uuid(),
  project_id uuid not null references project (id),
  item_id text not null,
  deliverable_id text not null,
  key text not null,
  inputs jsonb not null,
  state text not null default 'waiting' check (state in ('waiting', 'rendering', 'done', 'failed', 'cancelled')),
  problem text,
  file_hash text,
  file_bytes bigint,
  result jsonb,
  requested_at timestamptz not null default now(),
  finished_at timestamptz
);
create unique index master_once on master (project_id, item_id, deliverable_id, md5(key));
