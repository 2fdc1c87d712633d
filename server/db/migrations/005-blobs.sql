-- Every blob that was ever kept, with how many rows refer to it. Only the sweeper removes one, and only at none.
create table blob (
  hash text primary key check (hash ~ '^[0-9a-f]{64}$'),
  bytes bigint,
  -- CRC-32 of each 256 KiB, big-endian; null until it was read through once.
  checksums bytea,
  reference_count integer not null default 0,
  -- When it was last adopted or let go of: what is new is not swept.
  touched_at timestamptz not null default now()
);
create index blob_unreferenced on blob (touched_at) where reference_count <= 0;

-- The one place where references are counted: triggers on whatever names a blob, in the transaction that does.
create function count_blob_references() returns trigger language plpgsql as $$
declare
  field text;
  before text;
  after text;
begin
  foreach field in array tg_argv loop
    before := null;
    after := null;
    if tg_op <> 'INSERT' then execute format('select ($1).%I', field) into before using old; end if;
    if tg_op <> 'DELETE' then execute format('select ($1).%I', field) into after using new; end if;
    continue when before is not distinct from after;
    if after is not null then
      insert into blob (hash, reference_count) values (after, 1)
      on conflict (hash) do update set reference_count = blob.reference_count + 1;
    end if;
    if before is not null then
      update blob set reference_count = reference_count - 1, touched_at = now() where hash = before;
    end if;
  end loop;
  return null;
end $$;

-- What any state of a project names: recordings, covers, photos.
create table project_blob (
  project_id uuid not null references project (id) on delete cascade,
  hash text not null,
  primary key (project_id, hash)
);
create index project_blob_of on project_blob (hash);

create trigger source_blobs after insert or delete or update of hash, pcm_hash, overview_hash on source
  for each row execute function count_blob_references('hash', 'pcm_hash', 'overview_hash');
create trigger work_blobs after insert or delete or update of pcm_hash, overview_hash on work
  for each row execute function count_blob_references('pcm_hash', 'overview_hash');
create trigger segment_blobs after insert or delete or update of pcm_hash on work_segment
  for each row execute function count_blob_references('pcm_hash');
create trigger master_blobs after insert or delete or update of file_hash on master
  for each row execute function count_blob_references('file_hash');
create trigger project_blobs after insert or delete on project_blob
  for each row execute function count_blob_references('hash');

-- What there is already.
insert into blob (hash, reference_count)
  select hash, count(*) from (
    select hash from source
    union all select pcm_hash from source
    union all select overview_hash from source
    union all select pcm_hash from work
    union all select overview_hash from work
    union all select pcm_hash from work_segment
    union all select file_hash from master
  ) referred (hash) where hash is not null group by hash;
-- Recordings, covers and photos: whatever stands in a document as a hash.
insert into project_blob (project_id, hash)
  select distinct project_id, named #>> '{}'
  from project_state, jsonb_path_query(document, '$.** ? (@.type() == "string" && @ like_regex "^[0-9a-f]{64}$")') named;
