-- What engines showed, and what it says about a site's chances.

-- Sites and pages that stand among results, numbered within the site whose research it is, so that a result is a few
-- bytes. key: MD5 of the page's identity (core/web/page-identity), on_site: the site it is of, url: the address as it
-- was first written.
create table result_site (
  site_id bigint not null references site on delete cascade,
  id integer not null,
  domain text not null,
  primary key (site_id, id),
  unique (site_id, domain)
) partition by hash (site_id);
create table result_address (
  site_id bigint not null references site on delete cascade,
  id integer not null,
  key uuid not null,
  on_site integer not null,
  url text not null,
  primary key (site_id, id),
  unique (site_id, key)
) partition by hash (site_id);
create index result_address_by_site on result_address (site_id, on_site);

-- The latest results of a keyword and those before, a row for each page that is in one of them: one that stays where
-- it is needs no write, and how a page moved is read from its row. now, before: its best position; null = not among
-- them.
create table result_row (
  site_id bigint not null references site on delete cascade,
  market_id integer not null,
  keyword_id integer not null,
  page_id integer not null,
  on_site integer not null,
  now smallint,
  before smallint,
  primary key (site_id, market_id, keyword_id, page_id)
) partition by hash (site_id);
create index result_row_by_site on result_row (site_id, market_id, on_site, now) include (keyword_id, page_id);
create index result_row_by_page on result_row (site_id, market_id, page_id) include (keyword_id, now);
-- Of which days those are, how many results were requested (depth) and given (results), and by whom.
create table result_head (
  site_id bigint not null references site on delete cascade,
  market_id integer not null,
  keyword_id integer not null,
  day date not null,
  depth smallint not null,
  results smallint not null,
  source text not null,
  before_day date,
  before_depth smallint,
  before_results smallint,
  primary key (site_id, market_id, keyword_id)
) partition by hash (site_id);
-- All days, a row a month (core/results/month-results).
create table result_month (
  site_id bigint not null references site on delete cascade,
  market_id integer not null,
  keyword_id integer not null,
  month date not null,
  days bytea not null,
  -- Down to which position results are kept since the month was shortened; null: it is whole.
  kept_depth smallint,
  primary key (site_id, market_id, keyword_id, month)
) partition by hash (site_id);
select make_hash_partitions(big)
  from unnest(array['result_site', 'result_address', 'result_row', 'result_head', 'result_month']) big;

-- Keywords that a feed told of and nobody gathered: they have no revisions and no rows in any sheet of keywords until
-- they are taken over. family: its key (core/words/family-key). searches, cpc: of the market's place, by the ads data;
-- figures_at: when that was asked, null = not yet.
create table known_keyword (
  site_id bigint not null references site on delete cascade,
  id integer not null,
  language text not null,
  place text not null,
  phrase text not null,
  family text not null,
  searches real,
  cpc real,
  figures_at timestamptz,
  primary key (site_id, id),
  unique (site_id, place, language, phrase)
) partition by hash (site_id);
-- Where a site stands by the rankings feed, its latest editions merged: for a keyword the newer one counts. The feed
-- tells one page of a site for a keyword; part: told when one of its hosts, folders or pages was asked about, which
-- may stand below another page of the site.
create table known_ranking (
  site_id bigint not null references site on delete cascade,
  market_id integer not null,
  on_site integer not null,
  known_id integer not null,
  page_id integer not null,
  position smallint not null,
  part boolean not null default false,
  primary key (site_id, market_id, on_site, known_id, page_id)
) partition by hash (site_id);
-- What a site paid for in the newest month of the ads data: position of its advertisement, and what it spent in that
-- month.
create table known_paid (
  site_id bigint not null references site on delete cascade,
  market_id integer not null,
  on_site integer not null,
  known_id integer not null,
  position smallint not null,
  spend real not null,
  primary key (site_id, market_id, on_site, known_id)
) partition by hash (site_id);
select make_hash_partitions(big) from unnest(array['known_keyword', 'known_ranking', 'known_paid']) big;
-- Which editions were loaded for a site: as_of is the day of its results, keywords how many the edition covers, found
-- how many it stands for. paid: what it pays for, as_of being the month of known_paid.
create table ranking_load (
  site_id bigint not null,
  market_id bigint not null,
  on_site integer not null,
  edition text not null check (edition in ('weekly', 'full', 'paid')),
  as_of date not null,
  keywords integer not null,
  found integer not null,
  loaded_at timestamptz not null default now(),
  primary key (site_id, market_id, on_site, edition),
  foreign key (site_id, market_id) references market on delete cascade
);
-- What a site paid for by month, by the ads data; no row = nobody asked.
create table paid_month (
  site_id bigint not null,
  market_id bigint not null,
  on_site integer not null,
  month date not null,
  keywords integer not null,
  spend real not null,
  primary key (site_id, market_id, on_site, month),
  foreign key (site_id, market_id) references market on delete cascade
);
-- A site's months by the feed's full edition: visits over the keywords whose searches are known.
create table ranking_month (
  site_id bigint not null,
  market_id bigint not null,
  on_site integer not null,
  month date not null,
  within3 integer not null,
  within10 integer not null,
  within30 integer not null,
  keywords integer not null,
  visits real,
  worth real,
  primary key (site_id, market_id, on_site, month),
  foreign key (site_id, market_id) references market on delete cascade
);

-- Transactions that changed results or figures of a site: what is held in memory of them is as old as the newest one
-- it saw.
create table figures_change (
  site_id bigint not null references site on delete cascade,
  change xid8 not null default pg_current_xact_id(),
  primary key (site_id, change)
);

-- What the user decided about sites that stand beside the own one: a rival, or none (a marketplace, a forum).
create table rival (
  site_id bigint not null references site on delete cascade,
  domain text not null,
  state text not null check (state in ('accepted', 'aside')),
  primary key (site_id, domain)
);

-- The texts and features of a page of results, as it was seen.
create table result_page (
  site_id bigint not null,
  keyword_id bigint not null,
  market_id bigint not null,
  fetched_on date not null,
  fetched_at timestamptz not null,
  organic jsonb not null,
  features jsonb not null,
  related text[] not null,
  primary key (site_id, keyword_id, market_id, fetched_on),
  foreign key (site_id, market_id) references market on delete cascade
) partition by hash (site_id);
select make_hash_partitions('result_page');

-- Result pages far below the first, which show losers as well as winners: what strengths are learnt from. results:
-- [{url, title, snippet}].
create table deep_page (
  site_id bigint not null,
  market_id bigint not null,
  keyword_id bigint not null,
  fetched_on date not null,
  results jsonb not null,
  primary key (site_id, market_id, keyword_id),
  foreign key (site_id, market_id) references market on delete cascade
);

-- What link feeds and the registry report of sites and pages.
create table site_fact (
  domain text primary key,
  linking_sites integer,
  links integer,
  registered_on date,
  links_at timestamptz,
  registry_at timestamptz
);
-- key: identity of the page; url: its address as it was first met.
create table page_fact (
  key uuid primary key,
  url text not null,
  linking_sites integer,
  links integer,
  links_at timestamptz not null
);

-- levels: strength of the first results. organic_share, paid_share: how clicks are likely split. chance3 to likely_to:
-- of a new page that fits. page_…: of the page of the site that stands already: its place, its chance of the first
-- page and of standing higher. lacking: how many of the first results lack what core/results/what-lacks counts, in its
-- order; null = not known of any. reported: how many results the engine says it has, which is rough; null = it does
-- not say, or says none while it shows some.
create table weighing (
  site_id bigint not null,
  keyword_id bigint not null,
  market_id bigint not null,
  state text not null check (state in ('known', 'nothing', 'failed')),
  difficulty real,
  chance3 real,
  chance10 real,
  chance20 real,
  likely_from smallint,
  likely_to smallint,
  page_position smallint,
  page_chance real,
  page_higher real,
  lacking smallint[],
  reported double precision,
  levels real[] not null,
  own_level real,
  organic_share real,
  paid_share real,
  reason text,
  fetched_on date,
  weighed_at timestamptz not null,
  primary key (site_id, keyword_id, market_id),
  foreign key (site_id, market_id) references market on delete cascade
) partition by hash (site_id);
select make_hash_partitions('weighing');

-- The levels (0-100 by linking sites) of a market's sites, as 0th to 100th percentile: the scale of difficulty and
-- levels, taken once and then only when that is asked for. deep: from pages that reach to place 60; else from first
-- pages alone, until such pages come.
create table level_scale (
  site_id bigint not null,
  market_id bigint not null,
  taken_on date not null default current_date,
  sites integer not null,
  deep boolean not null,
  levels real[] not null,
  primary key (site_id, market_id),
  foreign key (site_id, market_id) references market on delete cascade
);

-- What was learnt about an engine and device; model and report as in core/results/learn-strength.
create table strength_model (
  site_id bigint not null references site on delete cascade,
  engine text not null,
  device text not null,
  fitted_at timestamptz not null default now(),
  pages integer not null,
  model jsonb,
  report jsonb,
  primary key (site_id, engine, device)
);
