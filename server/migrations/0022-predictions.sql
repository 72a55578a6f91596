-- What was said of a planned page's keywords when it was published, kept to be compared with what came of it. It hangs on the site
-- and the page alone: a partition of keywords whose rows are referred to cannot be replaced.
alter table page_plan add column published_on date;
create table prediction (
  site_id bigint not null references site on delete cascade,
  page_id bigint not null references page_plan on delete cascade,
  keyword_id bigint not null,
  market_id bigint not null references market on delete cascade,
  said_on date not null,
  chance10 real not null,
  likely_from smallint,
  likely_to smallint,
  primary key (site_id, page_id, keyword_id, market_id)
);
