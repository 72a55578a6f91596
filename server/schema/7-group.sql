-- Keywords in themes that one page can answer.

-- source: where its keywords came from: {"kind", "name"}. basis: what themes were made by: shared results, shared
-- words, or given with the keywords (a file, the plan, the query log), which is checked against results.
-- searches_from: whether searches are the known ones, those of a file, or left out. compared: how many of the first
-- results are compared; a threshold is of ten of them. oldest_days: results older than this were fetched first.
-- left_out: domains whose pages do not count. One grouping of a market is current: what the trail, the plan and
-- tracking call themes. version: goes up with each change.
create table keyword_grouping (
  site_id bigint not null,
  id bigint not null,
  market_id bigint not null,
  name text not null,
  source jsonb not null,
  basis text not null check (basis in ('results', 'words', 'given')),
  threshold smallint not null default 4 check (threshold between 1 and 9),
  compared smallint not null default 20 check (compared in (10, 20)),
  method text not null default 'lead' check (method in ('lead', 'pairs')),
  searches_from text not null check (searches_from in ('known', 'file', 'none')),
  oldest_days smallint not null,
  left_out text[] not null default '{}',
  is_current boolean not null default false,
  job_id bigint,
  created_at timestamptz not null default now(),
  -- Null until its themes were made for the first time.
  grouped_at timestamptz,
  removed_at timestamptz,
  version integer not null default 1,
  primary key (site_id, id),
  foreign key (site_id, market_id) references market on delete cascade
);
create unique index keyword_grouping_current on keyword_grouping (site_id, market_id) where is_current;
create trigger give_site_id before insert on keyword_grouping for each row execute function give_site_id();

-- name: what somebody called it; null: it is called as its lead. locked: it stays as it is when keywords are grouped
-- again.
create table theme (
  site_id bigint not null,
  id bigint not null,
  grouping_id bigint not null,
  lead_id bigint not null,
  name text,
  locked boolean not null default false,
  lead_by_hand boolean not null default false,
  primary key (site_id, id),
  foreign key (site_id, grouping_id) references keyword_grouping on delete cascade
);
create index theme_by_grouping on theme (site_id, grouping_id);
create trigger give_site_id before insert on theme for each row execute function give_site_id();

-- theme_id null: alone. by_hand: somebody put it there, which is kept when keywords are grouped again. searches: of a
-- file.
create table theme_keyword (
  site_id bigint not null,
  grouping_id bigint not null,
  keyword_id bigint not null,
  theme_id bigint,
  by_hand boolean not null default false,
  searches real,
  primary key (site_id, grouping_id, keyword_id),
  foreign key (site_id, grouping_id) references keyword_grouping on delete cascade
) partition by hash (site_id);
create index theme_keyword_by_keyword on theme_keyword (site_id, keyword_id);
select make_hash_partitions('theme_keyword');
