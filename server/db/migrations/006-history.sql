-- States keep what changed (RFC 6902, from the parent's document); whole documents stand at the first state and then
-- now and again, so that any state is a few patches from one.
alter table project_state alter column document drop not null;
alter table project_state add column patch jsonb;
-- Patches from here back to the nearest whole document.
alter table project_state add column patches integer not null default 0;
alter table project_state add check (document is not null or patch is not null);
create index project_state_children on project_state (project_id, parent, id);
create index project_state_versions on project_state (project_id, id) where version_name is not null;

alter table project add column states integer not null default 0;
update project set states = (select count(*) from project_state where project_id = project.id);

-- Edits that were answered, by the id that the page gave them: sent again, they are answered again and not done again.
create table edit (
  id uuid primary key,
  project_id uuid not null references project (id) on delete cascade,
  head bigint not null,
  made_at timestamptz not null default now()
);
create index edit_by_age on edit (made_at);
