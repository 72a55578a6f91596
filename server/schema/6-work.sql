-- What the program does for a site: files it reads, jobs, and what it asks of sources.

-- header_line: which line of an uploaded table names its columns, and columns how many those are: what stands above it
-- is left out, and a row over several lines must have as many cells.
create table import (
  site_id bigint not null references site on delete cascade,
  id bigint not null,
  kind text not null check (kind in ('keywords', 'positions', 'log', 'links', 'themes', 'popularity', 'graph',
    'pages')),
  file_name text not null,
  file_path text not null,
  encoding text not null,
  separator text not null,
  mapping jsonb,
  created_at timestamptz not null default now(),
  header_line integer not null default 1,
  columns integer not null default 1,
  -- What its kind of import needs to take it back; null: it has not run, or cannot be taken back any more.
  brought jsonb,
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

-- The other state of what an import wrote over: as it was before, or, once the import is taken back, as the import had
-- it. Rows change places with those in use when it is taken back or put back.
create table import_log_week (
  import_id bigint not null,
  like log_week,
  primary key (site_id, import_id, keyword_id, week, place, device),
  foreign key (site_id, import_id) references import on delete cascade
);
create table import_log_page_week (
  import_id bigint not null,
  like log_page_week,
  primary key (site_id, import_id, keyword_id, week, place, device, page_id),
  foreign key (site_id, import_id) references import on delete cascade
);
create table import_popularity (
  import_id bigint not null,
  like popularity,
  primary key (site_id, import_id, domain),
  foreign key (site_id, import_id) references import on delete cascade
);
-- Positions that an import wrote and what stood there before, by day: of the slot at the same place in each list.
create table import_position (
  site_id bigint not null,
  import_id bigint not null,
  market_id bigint not null,
  day date not null,
  -- Packed, little-endian: four bytes a slot, two a position.
  slots bytea not null,
  before bytea not null,
  written bytea not null,
  primary key (site_id, import_id, market_id, day),
  foreign key (site_id, import_id) references import on delete cascade,
  foreign key (site_id, market_id) references market on delete cascade
);
-- Rows of page_found that an import wrote; there_before: whether there was one, which then said url_before.
create table import_page_found (
  site_id bigint not null,
  import_id bigint not null,
  market_id bigint not null,
  slot integer not null,
  day date not null,
  url text,
  there_before boolean not null,
  url_before text,
  primary key (site_id, import_id, market_id, slot, day),
  foreign key (site_id, import_id) references import on delete cascade,
  foreign key (site_id, market_id) references market on delete cascade
);

-- Pages of which an archive told, with when each was fetched by it and, before, by others; null: never. Their contents
-- and links as they were before, or, once the import is taken back, as the archive had them.
create table import_page (
  site_id bigint not null,
  import_id bigint not null,
  page_id integer not null,
  written_at timestamptz not null,
  before_at timestamptz,
  primary key (site_id, import_id, page_id),
  foreign key (site_id, import_id) references import on delete cascade
);
create table import_page_content (
  site_id bigint not null,
  import_id bigint not null,
  like page_content,
  primary key (site_id, import_id, page_id),
  foreign key (site_id, import_id) references import on delete cascade
);
create table import_link (
  site_id bigint not null,
  import_id bigint not null,
  like link,
  primary key (site_id, import_id, target_site_id, target_page_id, source_page_id, anchor_id, rel),
  foreign key (site_id, import_id) references import on delete cascade
);

-- What was done with a site's data and can be undone. kind: what a feature registered; data: what its undo needs; who:
-- the name of who did it. The latest two hundred of a site are kept.
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

-- Work in the background. Jobs are of this server, not of the site's data: they are counted over all sites, and stay
-- when a site moves. site_id: null for work of the whole installation, which all sites show. key: the same work
-- requested twice is one job: while one of a key is open, another of the same site, kind and key is not made. deaths:
-- how often the process that ran a job died, or the job stopped moving, without getting further than `furthest`, the
-- most it had done at an earlier end of that kind. Work that brings its process down twice at one place is not handed
-- out a third time.
create table job (
  id bigint generated always as identity primary key,
  site_id bigint references site on delete cascade,
  kind text not null,
  title text not null,
  state text not null default 'waiting' check (state in ('waiting', 'running', 'paused', 'done', 'failed',
    'cancelled')),
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

-- What several processes share while they run: nothing here is kept for later. Requests that were let out to processes
-- in a second (since 1970) of a source, and in a day of those with a limit of ours.
create unlogged table source_second (
  source text primary key,
  second bigint not null,
  requests integer not null
);
create unlogged table source_day (
  source text primary key,
  day date not null,
  requests integer not null
);
-- When a host that is crawled may be asked next.
create unlogged table host_turn (
  host text primary key,
  next_at timestamptz not null
);
-- An uploaded file in pieces, for a process on another machine that gets the job.
create table upload_piece (
  name uuid not null,
  at integer not null,
  bytes bytea not null,
  received_at timestamptz not null default now(),
  primary key (name, at)
);
