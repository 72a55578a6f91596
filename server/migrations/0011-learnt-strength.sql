-- Result pages far below the first, which show losers as well as winners: what strengths are learnt from. results: [{url, title, snippet}].
create table deep_page (
  site_id bigint not null references site on delete cascade,
  market_id bigint not null references market on delete cascade,
  keyword_id bigint not null,
  fetched_on date not null,
  results jsonb not null,
  primary key (site_id, market_id, keyword_id)
);
-- What was learnt, an engine and device; model and report as in core/results/learn-strength.
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
