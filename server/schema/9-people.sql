-- Who uses the program, and what they did. All of it belongs to the installation and not to a site's data: it stays
-- when a site moves.

-- A person. email: in lower case. password_hash: Argon2id as a PHC string. ended_at: may not sign in any more; what
-- they did stays theirs.
create table account (
  id bigint generated always as identity primary key,
  email text not null unique,
  name text not null unique,
  password_hash text not null,
  is_administrator boolean not null default false,
  created_at timestamptz not null default now(),
  last_seen_at timestamptz,
  ended_at timestamptz
);
-- What a person may do in a site. Administrators are owners of every site without a row here.
create table site_member (
  site_id bigint not null references site on delete cascade,
  account_id bigint not null references account on delete cascade,
  role text not null check (role in ('reader', 'editor', 'owner')),
  primary key (site_id, account_id)
);
create index site_member_by_account on site_member (account_id);

-- A browser that is signed in. Of its secret only the SHA-256 is kept, so that who reads the table cannot take its
-- place.
create table session (
  id bigint generated always as identity primary key,
  token_hash bytea not null unique,
  account_id bigint not null references account on delete cascade,
  begun_at timestamptz not null default now(),
  last_seen_at timestamptz not null default now(),
  address text not null,
  agent text not null
);
create index session_by_account on session (account_id);

-- An address at which somebody makes an account, or, where account_id is set, a new password for theirs.
create table invitation (
  id bigint generated always as identity primary key,
  token_hash bytea not null unique,
  email text not null,
  is_administrator boolean not null default false,
  account_id bigint references account on delete cascade,
  sites jsonb not null default '[]',
  made_by text not null,
  made_at timestamptz not null default now(),
  ends_at timestamptz not null
);

-- What a program shows to come in. in_site: the one it is for; null: all of them. hint: its last characters, to tell
-- keys apart.
create table access_key (
  id bigint generated always as identity primary key,
  in_site bigint references site on delete cascade,
  name text not null,
  token_hash bytea not null unique,
  hint text not null,
  role text not null check (role in ('reader', 'editor', 'owner')),
  made_by text not null,
  made_at timestamptz not null default now(),
  last_used_at timestamptz,
  ended_at timestamptz
);

-- What was done, by whom: sign-ins, exports, acts, changes of people and keys. who: the name as it was then.
create table activity (
  id bigint generated always as identity primary key,
  at timestamptz not null default now(),
  in_site bigint references site on delete cascade,
  account_id bigint,
  who text not null,
  address text not null default '',
  kind text not null check (kind in ('signIn', 'signInFailed', 'signOut', 'act', 'export', 'people', 'keys',
    'sources', 'keeping', 'site')),
  what text not null
);
create index activity_by_site on activity (in_site, id desc);

-- Secrets that must be readable again (keys of sources, of web hooks), sealed by AES-256-GCM with a key that is kept
-- beside the data and not in it.
create table sealed_secret (
  name text primary key,
  sealed bytea not null,
  set_at timestamptz not null default now()
);
-- What is set for the whole installation, by name.
create table installation_setting (
  name text primary key,
  value jsonb not null
);
