-- Answers of requests that were sent with a key of their own, for a day.
create table kept_answer (
  owner text not null,
  key text not null,
  digest text not null,
  status integer,
  answer text,
  created_at timestamptz not null default now(),
  primary key (owner, key)
);
create index on kept_answer (created_at);

-- Addresses that what happens is sent to, and what is to be sent: put there in the transaction in which it happens.
create table webhook (
  id uuid primary key default gen_random_uuid(),
  url text not null,
  secret text not null,
  events text[] not null,
  project_id uuid references project on delete cascade,
  gone boolean not null default false,
  created_at timestamptz not null default now()
);
create table webhook_delivery (
  id uuid primary key default gen_random_uuid(),
  number bigint generated always as identity,
  webhook_id uuid not null references webhook on delete cascade,
  event text not null,
  body text not null,
  state text not null default 'waiting' check (state in ('waiting', 'delivered', 'failed')),
  attempts integer not null default 0,
  status integer,
  problem text,
  created_at timestamptz not null default now(),
  next_at timestamptz not null default now()
);
create index on webhook_delivery (webhook_id, number);
create index on webhook_delivery (next_at) where state = 'waiting';
