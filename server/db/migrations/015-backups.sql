-- Backups that were made or tried, wherever they lie: what is told of them when they are not looked at.
create table backup (
  id uuid primary key default gen_random_uuid(),
  place text not null,
  started_at timestamptz not null default now(),
  finished_at timestamptz,
  snapshot text,
  blobs integer,
  bytes bigint,
  copied_bytes bigint,
  -- Blobs that could not be kept, since they are damaged or missing.
  lost integer,
  problem text
);
create index backup_latest on backup (started_at desc);
