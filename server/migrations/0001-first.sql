-- Sites, keywords and what is known of them. Every big table's key begins with the site, and is partitioned by it from the start.

create table site (
  id bigint generated always as identity primary key,
  domain text not null unique,
  name text not null,
  created_at timestamptz not null default now()
);

create table market (
  id bigint generated always as identity primary key,
  site_id bigint not null references site on delete cascade,
  engine text not null,
  place text not null,
  language text not null,
  device text not null check (device in ('desktop', 'mobile')),
  unique (site_id, engine, place, language, device)
);

-- Goes up with every change to a keyword's row, so that a browser can ask for what is new. Writers of one site hold an advisory
-- lock while they take numbers, so a lower number never appears after a higher one.
create sequence keyword_revision;
create sequence keyword_id;

create table keyword (
  site_id bigint not null references site on delete cascade,
  id bigint not null default nextval('keyword_id'),
  phrase text not null,
  language text not null,
  family text not null,
  kind text not null,
  intent text not null,
  intent_share real not null,
  words smallint not null,
  kept_at timestamptz,
  created_at timestamptz not null default now(),
  revision bigint not null default nextval('keyword_revision'),
  primary key (site_id, id),
  unique (site_id, language, phrase)
) partition by hash (site_id);
create index keyword_by_revision on keyword (site_id, revision);
create index keyword_kept on keyword (site_id) where kept_at is not null;

-- What hangs on a keyword refers to the site, not to the keyword: checking that key row by row took more than half of a large import,
-- and keywords go only with their site.

-- Monthly figures of a place. months[1] is the month months_from. state: known, nothing (the source has nothing), failed.
create table demand (
  site_id bigint not null references site on delete cascade,
  keyword_id bigint not null,
  place text not null,
  source text not null,
  state text not null check (state in ('known', 'nothing', 'failed')),
  months_from date,
  months integer[],
  average real,
  cpc real,
  bid_low real,
  bid_high real,
  competition real,
  fetched_at timestamptz not null,
  primary key (site_id, keyword_id, place)
) partition by hash (site_id);

create table gathering (
  id bigint generated always as identity primary key,
  site_id bigint not null references site on delete cascade,
  market_id bigint not null references market on delete cascade,
  parent_id bigint references gathering on delete set null,
  seed text not null,
  ways text[] not null,
  most_ideas integer not null,
  found integer not null default 0,
  job_id bigint,
  started_at timestamptz not null default now()
);
create index gathering_by_site on gathering (site_id, id);

create table finding (
  site_id bigint not null references site on delete cascade,
  keyword_id bigint not null,
  gathering_id bigint not null references gathering on delete cascade,
  way text not null,
  found_at timestamptz not null default now(),
  primary key (site_id, keyword_id, gathering_id, way)
) partition by hash (site_id);
create index finding_by_gathering on finding (site_id, gathering_id, keyword_id);

-- What an engine showed, as it was seen.
create table result_page (
  site_id bigint not null references site on delete cascade,
  keyword_id bigint not null,
  market_id bigint not null references market on delete cascade,
  fetched_on date not null,
  fetched_at timestamptz not null,
  organic jsonb not null,
  features jsonb not null,
  related text[] not null,
  primary key (site_id, keyword_id, market_id, fetched_on)
) partition by hash (site_id);

create table site_fact (
  domain text primary key,
  linking_sites integer,
  links integer,
  registered_on date,
  links_at timestamptz,
  registry_at timestamptz
);
create table page_fact (
  url text primary key,
  linking_sites integer,
  links integer,
  links_at timestamptz not null
);

create table weighing (
  site_id bigint not null references site on delete cascade,
  keyword_id bigint not null,
  market_id bigint not null references market on delete cascade,
  state text not null check (state in ('known', 'nothing', 'failed')),
  difficulty real,
  chance3 real,
  chance10 real,
  chance20 real,
  likely_from smallint,
  likely_to smallint,
  levels real[] not null,
  own_level real,
  reason text,
  fetched_on date,
  weighed_at timestamptz not null,
  primary key (site_id, keyword_id, market_id)
) partition by hash (site_id);

create table page_plan (
  id bigint generated always as identity primary key,
  site_id bigint not null references site on delete cascade,
  title text not null,
  address text,
  existing boolean not null default false,
  deadline date,
  state text not null default 'idea' check (state in ('idea', 'writing', 'published')),
  remarks text not null default '',
  created_at timestamptz not null default now(),
  removed_at timestamptz
);
create index page_plan_by_site on page_plan (site_id, id);

create table page_plan_keyword (
  site_id bigint not null,
  keyword_id bigint not null,
  page_id bigint not null references page_plan on delete cascade,
  primary key (site_id, keyword_id),
  foreign key (site_id, keyword_id) references keyword on delete cascade
);
create index page_plan_keyword_by_page on page_plan_keyword (page_id);

-- A tracked keyword has a slot for good: its place in every day vector of the site.
create table tracked_keyword (
  site_id bigint not null,
  keyword_id bigint not null,
  slot integer not null,
  since date not null,
  active boolean not null default true,
  primary key (site_id, keyword_id),
  unique (site_id, slot),
  foreign key (site_id, keyword_id) references keyword on delete cascade
);

-- places: little-endian int16 a slot; above 0 the place, 0 not checked, below 0 not found within that depth.
create table position_day (
  site_id bigint not null references site on delete cascade,
  market_id bigint not null references market on delete cascade,
  day date not null,
  places bytea not null,
  checked_at timestamptz not null,
  primary key (site_id, market_id, day)
) partition by hash (site_id);

-- The same by keyword: one year of one slot, 366 values. Derived from position_day.
create table position_year (
  site_id bigint not null,
  market_id bigint not null references market on delete cascade,
  slot integer not null,
  year smallint not null,
  places bytea not null,
  primary key (site_id, market_id, slot, year)
) partition by hash (site_id);

-- The page found, only where it changed. null = none found from this day on.
create table page_found (
  site_id bigint not null,
  market_id bigint not null references market on delete cascade,
  slot integer not null,
  day date not null,
  url text,
  primary key (site_id, market_id, slot, day)
) partition by hash (site_id);

create table visibility_day (
  site_id bigint not null references site on delete cascade,
  market_id bigint not null references market on delete cascade,
  day date not null,
  visibility real,
  top3 integer not null,
  top10 integer not null,
  top30 integer not null,
  beyond integer not null,
  not_found integer not null,
  primary key (site_id, market_id, day)
);

do $$
declare big text;
begin
  foreach big in array array['keyword', 'demand', 'finding', 'result_page', 'weighing', 'position_day', 'position_year', 'page_found'] loop
    for part in 0..7 loop
      execute format('create table %I partition of %I for values with (modulus 8, remainder %s)', big || '_' || part, big, part);
    end loop;
  end loop;
end $$;

create table import (
  id bigint generated always as identity primary key,
  site_id bigint not null references site on delete cascade,
  kind text not null check (kind in ('keywords', 'positions')),
  file_name text not null,
  file_path text not null,
  encoding text not null,
  separator text not null,
  mapping jsonb,
  created_at timestamptz not null default now()
);
create table import_error (
  import_id bigint not null references import on delete cascade,
  line bigint not null,
  what text not null,
  value text not null
);
create index import_error_by_import on import_error (import_id, line);

create table job (
  id bigint generated always as identity primary key,
  site_id bigint not null references site on delete cascade,
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
  trouble jsonb not null default '{}',
  result jsonb,
  error text,
  created_at timestamptz not null default now(),
  ended_at timestamptz
);
create index job_by_site on job (site_id, id desc);

create table source_use (
  source text not null,
  day date not null,
  requests integer not null default 0,
  failures integer not null default 0,
  limited integer not null default 0,
  last_failure text,
  primary key (source, day)
);
