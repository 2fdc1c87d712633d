-- Masters sent out by a link to be heard: which files, what was said of them, what was decided, and what was heard.
create table review (
  id uuid primary key default gen_random_uuid(),
  project_id uuid not null references project (id) on delete cascade,
  title text not null,
  message text not null default '',
  -- Of the link only the hash of its secret is kept.
  secret_hash text not null unique,
  password_hash text,
  downloads boolean not null,
  -- Whether files that are compared are told apart by letters alone.
  blind boolean not null,
  created_by text not null,
  created_at timestamptz not null default now(),
  expires_at timestamptz not null,
  withdrawn_at timestamptz
);
create index review_of_project on review (project_id, created_at desc);

-- A file as it was sent out: it stays what it is, whatever becomes of the project.
create table review_file (
  review_id uuid not null references review (id) on delete cascade,
  position integer not null,
  item_id text not null,
  deliverable_id text not null,
  title text not null,
  label text not null,
  file_name text not null,
  media_type text not null,
  file_hash text not null,
  seconds double precision not null,
  integrated_lufs double precision,
  layout text not null,
  -- A copy that plays anywhere; null until it is made. The outline, 0…1: of its samples, until then of its loudness.
  copy_hash text,
  copy_problem text,
  outline jsonb,
  primary key (review_id, position)
);
create index review_file_hash on review_file (file_hash);
create trigger review_file_blobs after insert or delete or update of file_hash, copy_hash on review_file
  for each row execute function count_blob_references('file_hash', 'copy_hash');

-- Whoever opened a link, by the name that they gave.
create table review_guest (
  id uuid primary key default gen_random_uuid(),
  review_id uuid not null references review (id) on delete cascade,
  name text not null,
  token_hash text not null unique,
  address text,
  opened_at timestamptz not null default now()
);
create index review_guest_review on review_guest (review_id);

create table remark (
  id uuid primary key default gen_random_uuid(),
  review_id uuid not null,
  position integer not null,
  guest_id uuid not null references review_guest (id) on delete cascade,
  at_seconds double precision not null,
  end_seconds double precision,
  words text not null,
  created_at timestamptz not null default now(),
  answer text,
  answered_by text,
  resolved_at timestamptz,
  foreign key (review_id, position) references review_file on delete cascade
);
create index remark_review on remark (review_id, position, at_seconds);

-- Decisions are added, the latest counts; each is of bytes.
create table review_verdict (
  id uuid primary key default gen_random_uuid(),
  review_id uuid not null,
  position integer not null,
  guest_id uuid not null references review_guest (id) on delete cascade,
  file_hash text not null,
  approved boolean not null,
  words text not null default '',
  created_at timestamptz not null default now(),
  foreign key (review_id, position) references review_file on delete cascade
);
create index review_verdict_review on review_verdict (review_id, position, created_at desc);

-- What of a file each guest has heard, as ranges of seconds.
create table review_heard (
  review_id uuid not null,
  position integer not null,
  guest_id uuid not null references review_guest (id) on delete cascade,
  ranges jsonb not null,
  plays integer not null,
  heard_at timestamptz not null default now(),
  primary key (review_id, position, guest_id),
  foreign key (review_id, position) references review_file on delete cascade
);
