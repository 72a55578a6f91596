-- What the program does for a site: files it reads, jobs, and what it asks of sources.

-- header_line: which line of an uploaded table names its columns, and columns how many those are: what stands above it is left out, and
-- a row over several lines must have as many cells.
create table import (
  site_id bigint not null references site on delete cascade,
  id bigint not null,
  kind text not null check (kind in ('keywords', 'positions', 'log', 'links', 'themes', 'popularity', 'graph')),
  file_name text not null,
  file_path text not null,
  encoding text not null,
  separator text not null,
  mapping jsonb,
  created_at timestamptz not null default now(),
  header_line integer not null default 1,
  columns integer not null default 1,
  -- Since when what it alone brought is left out.
  taken_back_at timestamptz,
  primary key (site_id, id)
);
create trigger give_site_id before insert on import for each row execute function give_site_id();
create table import_error (
  site_id bigint not null,
  import_id bigint not null,
  line bigint not null,
  what text not null,
  value text not null,
  foreign key (site_id, import_id) references import on delete cascade
);
create index import_error_by_import on import_error (site_id, import_id, line);

-- What was done with a site's data and can be undone. kind: what a feature registered; data: what its undo needs; who: the name of who did it.
-- The latest two hundred of a site are kept.
create table act (
  site_id bigint not null references site on delete cascade,
  id bigint not null,
  at timestamptz not null default now(),
  kind text not null,
  title text not null,
  who text not null,
  data jsonb not null,
  undone_at timestamptz,
  primary key (site_id, id)
);
create trigger give_site_id before insert on act for each row execute function give_site_id();

-- Work in the background. Jobs are of this server, not of the site's data: they are counted over all sites, and stay when a site moves.
-- site_id: null for work of the whole installation, which all sites show.
-- key: the same work requested twice is one job: while one of a key is open, another of the same site, kind and key is not made.
-- deaths: how often the process that ran a job died, or the job stopped moving, without getting further than `furthest`, the most it had
-- done at an earlier end of that kind. Work that brings its process down twice at one place is not handed out a third time.
create table job (
  id bigint generated always as identity primary key,
  site_id bigint references site on delete cascade,
  kind text not null,
  title text not null,
  state text not null default 'waiting' check (state in ('waiting', 'running', 'paused', 'done', 'failed', 'cancelled')),
  wanted text not null default 'run' check (wanted in ('run', 'pause', 'cancel')),
  payload jsonb not null,
  progress jsonb not null default '{}',
  done integer not null default 0,
  total integer,
  attempts integer not null default 0,
  running_ms bigint not null default 0,
  warnings jsonb not null default '{}',
  result jsonb,
  error text,
  created_at timestamptz not null default now(),
  ended_at timestamptz,
  key text,
  deaths smallint not null default 0,
  furthest integer not null default -1
);
create index job_by_site on job (site_id, id desc);
create unique index job_open_key on job (coalesce(site_id, 0), kind, key) where ended_at is null;

create table source_use (
  source text not null,
  day date not null,
  requests integer not null default 0,
  failures integer not null default 0,
  limited integer not null default 0,
  last_failure text,
  primary key (source, day)
);
-- Most requests a day that a source is sent, as the user set it; a source without a row has no limit of ours.
create table source_limit (
  source text primary key,
  most_a_day integer not null check (most_a_day >= 0)
);
