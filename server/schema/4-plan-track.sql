-- Planned pages, tracked keywords, the site's own query log.

-- version: goes up with each change of the page itself, so that a change of what somebody else changed meanwhile is
-- refused. kind: what is to be done with it. effort: days of work. not_before, must_be_in: what is said of it when the
-- best set of pages is chosen. published_on: when a new page first was; done_on: when its work was last called
-- published.
create table page_plan (
  site_id bigint not null references site on delete cascade,
  id bigint not null,
  title text not null,
  address text,
  -- Identity of the page at the address; null while it has none.
  page_key uuid,
  kind text not null default 'new' check (kind in ('new', 'keep', 'rework', 'merge', 'remove')),
  existing boolean not null generated always as (kind <> 'new') stored,
  merge_into bigint,
  effort real,
  owner text not null default '',
  not_before date,
  must_be_in boolean not null default false,
  deadline date,
  state text not null default 'idea' check (state in ('idea', 'writing', 'published')),
  remarks text not null default '',
  created_at timestamptz not null default now(),
  removed_at timestamptz,
  published_on date,
  done_on date,
  version integer not null default 1,
  primary key (site_id, id)
);
create index page_plan_by_key on page_plan (site_id, page_key);
create trigger give_site_id before insert on page_plan for each row execute function give_site_id();
create table page_plan_keyword (
  site_id bigint not null,
  keyword_id bigint not null,
  page_id bigint not null,
  -- Its place among the page's keywords where somebody gave them an order; those without one follow by searches.
  at integer,
  -- Where in the page it should stand.
  spot text check (spot in ('title', 'heading', 'text')),
  primary key (site_id, keyword_id),
  foreign key (site_id, page_id) references page_plan on delete cascade
);
create index page_plan_keyword_by_page on page_plan_keyword (site_id, page_id);

-- Where somebody put a page of the site map: node is "plan:" with the number of a planned page without an address, or
-- "page:" with a page's key; under is another node, a folder's path, or "top".
create table map_parent (
  site_id bigint not null references site on delete cascade,
  node text not null,
  under text not null,
  primary key (site_id, node)
);

-- What a writer is given for a page: {title, description, headings, terms, wordsFrom, wordsTo, links, remarks}.
create table page_brief (
  site_id bigint not null,
  page_id bigint not null,
  brief jsonb not null,
  version integer not null default 1,
  primary key (site_id, page_id),
  foreign key (site_id, page_id) references page_plan on delete cascade
);

-- Addresses that give who knows them something to read without signing in.
create table secret_link (
  site_id bigint not null references site on delete cascade,
  kind text not null check (kind in ('calendar', 'alerts', 'report')),
  -- Which one of its kind, 0 where a site has one only.
  of bigint not null default 0,
  token text not null unique,
  made_on date not null default current_date,
  -- The last day on which it shows anything; null: until it is ended.
  ends_on date,
  primary key (site_id, kind, of)
);

-- What was expected of a page in visits a month on the day on which its work was called published, and what its
-- keywords brought before.
create table page_expectation (
  site_id bigint not null,
  page_id bigint not null,
  market_id bigint not null,
  predicted_on date not null,
  before real,
  visits real not null,
  low real not null,
  high real not null,
  primary key (site_id, page_id, market_id),
  foreign key (site_id, page_id) references page_plan on delete cascade,
  foreign key (site_id, market_id) references market on delete cascade
);

-- What was predicted of a planned page's keywords when it was published, kept to be compared with what came of it.
create table prediction (
  site_id bigint not null,
  page_id bigint not null,
  keyword_id bigint not null,
  market_id bigint not null,
  predicted_on date not null,
  chance10 real not null,
  likely_from smallint,
  likely_to smallint,
  primary key (site_id, page_id, keyword_id, market_id),
  foreign key (site_id, page_id) references page_plan on delete cascade,
  foreign key (site_id, market_id) references market on delete cascade
);

-- A tracked keyword has a slot for good: its place in every day vector of the site.
create table tracked_keyword (
  site_id bigint not null references site on delete cascade,
  keyword_id bigint not null,
  slot integer not null,
  since date not null,
  active boolean not null default true,
  -- In which markets it is checked; null = in all of its language.
  market_ids bigint[],
  primary key (site_id, keyword_id),
  unique (site_id, slot)
);

-- positions: little-endian int16 a slot; above 0 the position, 0 not checked, below 0 not found within that depth.
create table position_day (
  site_id bigint not null,
  market_id bigint not null,
  day date not null,
  positions bytea not null,
  checked_at timestamptz not null,
  primary key (site_id, market_id, day),
  foreign key (site_id, market_id) references market on delete cascade
) partition by hash (site_id);
-- The same by keyword: one year of one slot, 366 values. Derived from position_day, up to market.folded_until.
create table position_year (
  site_id bigint not null,
  market_id bigint not null,
  slot integer not null,
  year smallint not null,
  positions bytea not null,
  primary key (site_id, market_id, slot, year),
  foreign key (site_id, market_id) references market on delete cascade
) partition by hash (site_id);
-- The page found, only where it changed. null = none found from this day on.
create table page_found (
  site_id bigint not null,
  market_id bigint not null,
  slot integer not null,
  day date not null,
  url text,
  primary key (site_id, market_id, slot, day),
  foreign key (site_id, market_id) references market on delete cascade
) partition by hash (site_id);
-- What a result page held besides results, and where in it the own site stood, only where that changed: bits of
-- core/positions/page-features.
create table feature_found (
  site_id bigint not null,
  market_id bigint not null,
  slot integer not null,
  day date not null,
  shown smallint not null,
  held smallint not null,
  primary key (site_id, market_id, slot, day),
  foreign key (site_id, market_id) references market on delete cascade
) partition by hash (site_id);
create table visibility_day (
  site_id bigint not null,
  market_id bigint not null,
  day date not null,
  visibility real,
  top3 integer not null,
  top10 integer not null,
  top30 integer not null,
  beyond integer not null,
  not_found integer not null,
  primary key (site_id, market_id, day),
  foreign key (site_id, market_id) references market on delete cascade
);

-- Visits a month that sites got from the results of tracked keywords, as they stood after a check on that day, and
-- their share of what all got; of the sites with most and the own one.
create table voice_day (
  site_id bigint not null,
  market_id bigint not null,
  day date not null,
  domain text not null,
  visits real not null,
  share real not null,
  primary key (site_id, market_id, day, domain),
  foreign key (site_id, market_id) references market on delete cascade
);

-- What somebody is told of. kind: as in contract/alerts; least: by how much something must move, where that counts;
-- list_id: only keywords with that label.
create table alert_rule (
  site_id bigint not null references site on delete cascade,
  id bigint not null,
  kind text not null check (kind in ('visibility', 'leftFirstPage', 'swap', 'rivalPassed', 'shift', 'checkFailed')),
  least real,
  list_id bigint,
  active boolean not null default true,
  version integer not null default 1,
  primary key (site_id, id),
  foreign key (site_id, list_id) references list on delete cascade
);
create trigger give_site_id before insert on alert_rule for each row execute function give_site_id();

-- Checks of positions as they ran. late: begun more than a quarter of an hour after their time. requested, checked:
-- keywords × markets.
create table check_run (
  site_id bigint not null references site on delete cascade,
  id bigint not null,
  job_id bigint not null,
  market_id bigint,
  scheduled boolean not null,
  late boolean not null,
  began_at timestamptz not null default now(),
  ended_at timestamptz,
  requested integer not null,
  checked integer not null default 0,
  primary key (site_id, id),
  foreign key (site_id, market_id) references market on delete cascade
);
create trigger give_site_id before insert on check_run for each row execute function give_site_id();
create unique index check_run_by_job on check_run (site_id, job_id);
-- What a check could not ask, until it was checked after all: not checked, which is not the same as not found.
create table check_failure (
  site_id bigint not null,
  run_id bigint not null,
  market_id bigint not null,
  keyword_id bigint not null,
  what text not null,
  tries smallint not null default 1,
  last_at timestamptz not null default now(),
  checked_at timestamptz,
  primary key (site_id, run_id, market_id, keyword_id),
  foreign key (site_id, run_id) references check_run on delete cascade,
  foreign key (site_id, market_id) references market on delete cascade
);
create index check_failure_open on check_failure (site_id, run_id) where checked_at is null;
-- What a rule found in a market on a day, once; keywords: [{keywordId, phrase, before, now, from, to}]. mailed_at:
-- null = not mailed yet.
create table alert (
  site_id bigint not null,
  id bigint not null,
  rule_id bigint not null,
  market_id bigint not null,
  day date not null,
  title text not null,
  body text not null default '',
  keywords jsonb not null default '[]',
  made_at timestamptz not null default now(),
  read_at timestamptz,
  mailed_at timestamptz,
  primary key (site_id, id),
  unique (site_id, rule_id, market_id, day),
  foreign key (site_id, rule_id) references alert_rule on delete cascade,
  foreign key (site_id, market_id) references market on delete cascade
);
create trigger give_site_id before insert on alert for each row execute function give_site_id();
create index alert_by_time on alert (site_id, made_at);
-- To whom a day's alerts are mailed.
create table alert_mail (
  site_id bigint primary key references site on delete cascade,
  address text not null
);
create function give_first_alert_rules() returns trigger language plpgsql as $$
begin
  insert into alert_rule (site_id, kind, least) values (new.id, 'visibility', 3), (new.id, 'leftFirstPage', null),
    (new.id, 'swap', null),
    (new.id, 'rivalPassed', null), (new.id, 'shift', null), (new.id, 'checkFailed', null);
  return null;
end $$;
create trigger give_first_alert_rules after insert on site for each row execute function give_first_alert_rules();

create table log_property (
  site_id bigint not null references site on delete cascade,
  id bigint not null,
  property text not null,
  name text not null,
  last_day date,
  loaded_at timestamptz,
  gathering_id bigint,
  primary key (site_id, id),
  unique (site_id, property),
  foreign key (site_id, gathering_id) references gathering on delete set null (gathering_id)
);
create trigger give_site_id before insert on log_property for each row execute function give_site_id();
-- The own query log by week (Monday). position: mean over the impressions.
create table log_week (
  site_id bigint not null,
  keyword_id bigint not null,
  property_id bigint not null,
  week date not null,
  place text not null,
  device text not null check (device in ('desktop', 'mobile')),
  impressions integer not null,
  clicks integer not null,
  position real not null,
  primary key (site_id, keyword_id, property_id, week, place, device),
  foreign key (site_id, property_id) references log_property on delete cascade
) partition by hash (site_id);
-- The same by page: which own page was shown for a query. page_id: of result_address. Of one search that showed two
-- pages each has its own row.
create table log_page_week (
  site_id bigint not null,
  keyword_id bigint not null,
  property_id bigint not null,
  week date not null,
  place text not null,
  device text not null check (device in ('desktop', 'mobile')),
  page_id integer not null,
  impressions integer not null,
  clicks integer not null,
  position real not null,
  primary key (site_id, keyword_id, property_id, week, place, device, page_id),
  foreign key (site_id, property_id) references log_property on delete cascade
) partition by hash (site_id);
-- The same summed over the last weeks, all devices; derived. searches: the least searches a month that the log shows.
create table log_sum (
  site_id bigint not null references site on delete cascade,
  keyword_id bigint not null,
  place text not null,
  days integer not null,
  impressions integer not null,
  clicks integer not null,
  position real not null,
  searches real not null,
  primary key (site_id, keyword_id, place)
) partition by hash (site_id);
-- Click shares by place, fitted from the own log. shares[1] is place 1.
create table click_curve (
  site_id bigint not null references site on delete cascade,
  device text not null check (device in ('desktop', 'mobile')),
  brand boolean not null,
  shares real[] not null,
  impressions bigint[] not null,
  fitted_at timestamptz not null default now(),
  primary key (site_id, device, brand)
);
select make_hash_partitions(big) from unnest(array['position_day', 'position_year', 'page_found', 'feature_found',
  'log_week', 'log_page_week', 'log_sum']) big;
