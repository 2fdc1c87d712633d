-- What encoding with loss adds to the true peak of a sound, by how deep a limiter cuts: predictions of masters use it.
create table encoding_overshoot (
  key text not null,
  -- The recording that the sound is made of: what was measured of it otherwise processed stands in meanwhile.
  source text not null,
  encoding text not null,
  limiting_db jsonb not null,
  overshoot_db jsonb not null,
  used_at timestamptz not null default now()
);
create unique index encoding_overshoot_once on encoding_overshoot (md5(key), md5(encoding));
create index encoding_overshoot_source on encoding_overshoot (source, used_at desc);
