-- What engines showed, and what it says about a site's chances.

-- A page of results with its texts, as it was seen.
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

-- Result pages far below the first, which show losers as well as winners: what strengths are learnt from. results: [{url, title, snippet}].
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
create table page_fact (
  url text primary key,
  linking_sites integer,
  links integer,
  links_at timestamptz not null
);

-- levels: strength of the first results. organic_share, paid_share: how clicks are likely split. domains: the sites on the page, in order.
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
  levels real[] not null,
  own_level real,
  organic_share real,
  paid_share real,
  domains text[] not null default '{}',
  reason text,
  fetched_on date,
  weighed_at timestamptz not null,
  primary key (site_id, keyword_id, market_id),
  foreign key (site_id, market_id) references market on delete cascade
) partition by hash (site_id);
select make_hash_partitions('weighing');

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
