-- Projects that are put away: in the archive, or in the bin, from which they are removed for good after a while.
alter table project add column shelf text check (shelf in ('archive', 'bin'));
alter table project add column shelved_at timestamptz;

-- Whatever belongs to a project goes with it.
do $$
declare
  found record;
begin
  for found in
    select conrelid::regclass as owner, conname, pg_get_constraintdef(oid) as definition
    from pg_constraint where contype = 'f' and confrelid = 'project'::regclass and confdeltype <> 'c'
  loop
    execute format('alter table %s drop constraint %I', found.owner, found.conname);
    execute format('alter table %s add constraint %I %s on delete cascade', found.owner, found.conname, found.definition);
  end loop;
end $$;
