-- What was measured of programmes after their chains: predictions of their masters begin with it.
create table programme_figures (
  key text not null,
  figures jsonb not null,
  overview_hash text not null,
  used_at timestamptz not null default now()
);
create unique index programme_figures_once on programme_figures (md5(key));
create trigger programme_figures_blobs after insert or delete or update of overview_hash on programme_figures
  for each row execute function count_blob_references('overview_hash');
