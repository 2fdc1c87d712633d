-- Accounts, sessions and passkeys: columns as the accounts library names them (better-auth), in tables of ours.
create table person (
  "id" uuid default gen_random_uuid() not null primary key,
  "name" text not null,
  "email" text not null unique,
  "emailVerified" boolean not null default true,
  "image" text,
  "createdAt" timestamptz default now() not null,
  "updatedAt" timestamptz default now() not null,
  role text not null default 'guest' check (role in ('owner', 'engineer', 'assistant', 'guest')),
  -- May sign in no more; what they did stays under their name.
  suspended boolean not null default false
);
create table session (
  "id" uuid default gen_random_uuid() not null primary key,
  "expiresAt" timestamptz not null,
  "token" text not null unique,
  "createdAt" timestamptz default now() not null,
  "updatedAt" timestamptz not null,
  "ipAddress" text,
  "userAgent" text,
  "userId" uuid not null references person ("id") on delete cascade
);
create index session_person on session ("userId");
create table account (
  "id" uuid default gen_random_uuid() not null primary key,
  "accountId" text not null,
  "providerId" text not null,
  "userId" uuid not null references person ("id") on delete cascade,
  "accessToken" text,
  "refreshToken" text,
  "idToken" text,
  "accessTokenExpiresAt" timestamptz,
  "refreshTokenExpiresAt" timestamptz,
  "scope" text,
  "password" text,
  "createdAt" timestamptz default now() not null,
  "updatedAt" timestamptz default now() not null
);
create unique index account_person on account ("userId", "providerId");
create table verification (
  "id" uuid default gen_random_uuid() not null primary key,
  "identifier" text not null,
  "value" text not null,
  "expiresAt" timestamptz not null,
  "createdAt" timestamptz default now() not null,
  "updatedAt" timestamptz default now() not null
);
create index verification_identifier on verification ("identifier");
create table passkey (
  "id" uuid default gen_random_uuid() not null primary key,
  "name" text,
  "publicKey" text not null,
  "userId" uuid not null references person ("id") on delete cascade,
  "credentialID" text not null,
  "counter" integer not null,
  "deviceType" text not null,
  "backedUp" boolean not null,
  "transports" text,
  "createdAt" timestamptz,
  "aaguid" text
);
create index passkey_person on passkey ("userId");
create unique index passkey_credential on passkey ("credentialID");

-- How often somebody tried to sign in: rows of rate-limiter-flexible.
create table sign_in_attempts (key varchar(255) primary key, points integer not null default 0, expire bigint);

-- Who sends an upload: its item stands under their name.
alter table upload add column author text not null default 'intake';

create table project_member (
  project_id uuid not null references project (id) on delete cascade,
  person_id uuid not null references person ("id") on delete cascade,
  role text not null check (role in ('edit', 'listen', 'review')),
  primary key (project_id, person_id)
);
create index project_member_person on project_member (person_id);

-- Links by which somebody joins, or chooses a new password. Of the link only the hash of its secret is kept.
create table invitation (
  id uuid primary key default gen_random_uuid(),
  secret_hash text not null unique,
  role text not null check (role in ('owner', 'engineer', 'assistant', 'guest')),
  project_id uuid references project (id) on delete cascade,
  project_role text check (project_role in ('edit', 'listen', 'review')),
  -- For somebody who has an account: a new password.
  person_id uuid references person ("id") on delete cascade,
  note text not null default '',
  invited_by text not null,
  created_at timestamptz not null default now(),
  expires_at timestamptz not null,
  accepted_at timestamptz,
  withdrawn_at timestamptz
);

-- Tokens of programs that act for a person. Of each only the hash is kept.
create table api_token (
  id uuid primary key default gen_random_uuid(),
  person_id uuid not null references person ("id") on delete cascade,
  name text not null,
  start text not null,
  secret_hash text not null unique,
  scopes text[] not null,
  created_at timestamptz not null default now(),
  expires_at timestamptz,
  used_at timestamptz
);
create index api_token_person on api_token (person_id);

-- Who did what, when and from where. Entries outlast projects and people, and nothing changes one.
create table audit (
  id bigint generated always as identity primary key,
  at timestamptz not null default now(),
  person_id uuid,
  person text not null,
  address text,
  token text,
  action text not null,
  project_id uuid,
  subject text
);
create index audit_project on audit (project_id, id);
create index audit_person on audit (person_id, id);
create function refuse_audit_changes() returns trigger language plpgsql as $$
begin
  raise exception 'entries of the audit trail are neither changed nor removed';
end $$;
create trigger audit_stays before update or delete on audit for each row execute function refuse_audit_changes();
