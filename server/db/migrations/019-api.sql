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
