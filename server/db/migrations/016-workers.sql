-- Render workers, by what they say of themselves every few seconds.
create table worker (
  name text primary key,
  machine text not null,
  core_version text not null,
  started_at timestamptz not null default now(),
  seen_at timestamptz not null default now(),
  -- Work of the machine for each of its processors, over a minute.
  load real not null,
  memory_bytes bigint not null,
  -- Takes no more jobs, and ends what it has in hand.
  drained boolean not null default false,
  -- Is to end once nothing is in its hands.
  stop_asked boolean not null default false
);
