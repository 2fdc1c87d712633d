-- Deliverables that are kept up to date by themselves. Since when a project stands still, and the state up to which its
-- automatic deliveries were seen to: nothing of what is there now is automatic.
alter table project add column head_moved_at timestamptz not null default now();
alter table project add column delivered_head bigint;
update project set delivered_head = head;
create index on project (head_moved_at) where head is distinct from delivered_head;

-- How far each of them is, of which state.
create table automatic_delivery (
  project_id uuid not null references project (id) on delete cascade,
  deliverable_id text not null,
  head bigint not null,
  state text not null check (state in ('rendering', 'submitting', 'done', 'held')),
  problem text,
  -- Files that were handed over last, by their hashes: the same are not handed over again.
  files text,
  submission uuid references submission (id) on delete set null,
  -- How often what could not be reached was tried.
  tries integer not null default 0,
  changed_at timestamptz not null default now(),
  primary key (project_id, deliverable_id)
);
